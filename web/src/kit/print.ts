/** Prints one part of a page: its labels, or its weigh-out sheet. */
export function printOnly(part: 'labels' | 'sheet') {
  document.documentElement.dataset.print = part
  window.addEventListener('afterprint', () => delete document.documentElement.dataset.print, { once: true })
  window.print()
}
