/** Before a page is printed: how wide the sheet stands on the screen, and how much smaller that is on A4 or letter. */
const PAPER_PX = 690 // 182 mm at 96 to the inch: A4 between its margins; letter is a little wider

export function readyForPaper(root: HTMLElement = document.documentElement): void {
  const wide = document.querySelector('main')?.clientWidth ?? 0
  if (!wide) return
  root.style.setProperty('--sheet-wide', `${wide}px`)
  root.style.setProperty('--sheet-zoom', String(Math.min(1, PAPER_PX / wide)))
}
