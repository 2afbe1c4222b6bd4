/** What every test starts from: an empty browser store, metric units, a server that answers nothing until a test says so. */
import 'fake-indexeddb/auto'
import { afterEach, beforeEach, vi } from 'vitest'
import { server } from './server'

globalThis.fetch = server.fetch // before the client is made, which keeps the one it finds

beforeEach(() => {
  localStorage.clear()
  server.reset()
})
afterEach(() => vi.useRealTimers())
