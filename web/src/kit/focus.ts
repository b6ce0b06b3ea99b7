import { type RefObject, useEffect } from 'react'

const FOCUSABLE = 'a[href], button:not(:disabled), input:not(:disabled), select:not(:disabled), summary, textarea, [tabindex]'

/** The field of the page that takes what the scale says. */
export const scaleField = () => document.querySelector<HTMLInputElement>('[data-scale] input')

/** The scale's field has the focus on arrival: what is typed first is a weight. */
export function useArrival(scale: RefObject<HTMLElement | null>) {
  useEffect(() => {
    const here = document.activeElement
    // Somebody who is already typing somewhere is left alone.
    if (here && here.matches('input, select, textarea')) return
    scale.current?.querySelector('input')?.focus({ preventScroll: true })
  }, [scale])
}

/**
 * Never leaves the focus on nothing: when what had it goes away or is switched off, its neighbour takes it, the scale's field, or
 * the page. Mounted once.
 */
export function useKeptFocus() {
  useEffect(() => {
    let last: { at: Element; above: Element[] } | undefined
    const remember = (event: FocusEvent) => {
      const at = event.target
      if (!(at instanceof Element)) return
      const above: Element[] = []
      for (let e = at.parentElement; e && e !== document.body; e = e.parentElement) above.push(e)
      last = { at, above }
    }
    const isLost = () =>
      last !== undefined &&
      (document.activeElement === document.body || document.activeElement === null) &&
      (!last.at.isConnected || last.at.matches(':disabled') || last.at.getClientRects().length === 0)
    const mend = () => {
      if (!isLost() || !last) return
      const scale = scaleField()
      const around = last.above.filter((e) => e.isConnected)
      const within = around[0]
      const near = within && within.id !== 'main' && within.id !== 'root' ? firstIn(within) : undefined
      const sameForm = around.some((e) => e.matches('form') && scale && e.contains(scale))
      const to = (sameForm ? scale : (near ?? scale)) ?? document.getElementById('main')
      to?.focus({ preventScroll: true })
    }
    const observer = new MutationObserver(() => requestAnimationFrame(mend))
    observer.observe(document.body, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ['disabled', 'hidden', 'open'],
    })
    document.addEventListener('focusin', remember)
    return () => {
      observer.disconnect()
      document.removeEventListener('focusin', remember)
    }
  }, [])
}

const firstIn = (element: Element) =>
  [...element.querySelectorAll<HTMLElement>(FOCUSABLE)].find((e) => e.getClientRects().length > 0)
