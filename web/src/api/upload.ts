/** A fetch that tells how much of its body is sent, 0 to 1: for files that take their time. */
export function telling(share: (sent: number) => void): (request: Request) => Promise<Response> {
  return async (request) => {
    const body = await request.blob()
    return new Promise((answered, failed) => {
      const line = new XMLHttpRequest()
      line.open(request.method, request.url)
      request.headers.forEach((value, name) => line.setRequestHeader(name, value))
      line.upload.onprogress = (at) => at.lengthComputable && share(at.loaded / at.total)
      line.onload = () => {
        const headers = { 'Content-Type': line.getResponseHeader('Content-Type') ?? '' }
        answered(new Response(line.status === 204 ? null : line.responseText, { status: line.status, headers }))
      }
      line.onerror = line.onabort = () => failed(new TypeError('the connection was lost'))
      line.send(body)
    })
  }
}
