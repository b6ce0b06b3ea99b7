/** What this device keeps between two visits; in memory alone where the browser keeps nothing. */
const memory = new Map<string, string>()

const OWN = 'manifest.'

export function kept(name: string): string | undefined {
  try {
    return localStorage.getItem(OWN + name) ?? memory.get(name)
  } catch {
    return memory.get(name)
  }
}

export function keep(name: string, text: string) {
  memory.set(name, text)
  try {
    localStorage.setItem(OWN + name, text)
  } catch {
    // A full or forbidden store: it lives as long as the page.
  }
}

export function forget(name: string) {
  memory.delete(name)
  try {
    localStorage.removeItem(OWN + name)
  } catch {
    // Nothing was kept there.
  }
}

/** The names of what is kept that begin so. */
export function keptNames(prefix: string): string[] {
  const names = new Set([...memory.keys()].filter((n) => n.startsWith(prefix)))
  try {
    for (let i = 0; i < localStorage.length; i++) {
      const name = localStorage.key(i)
      if (name?.startsWith(OWN + prefix)) names.add(name.slice(OWN.length))
    }
  } catch {
    // Only memory, then.
  }
  return [...names]
}

/** The ledger that answered here last; what was typed for one never goes to another. */
export const ledgerHere = () => kept('ledger') ?? ''

/** Another ledger answers under this address: nothing on the page is about it. */
export function servedBy(ledger: string) {
  const before = ledgerHere()
  if (before === ledger) return
  keep('ledger', ledger)
  if (before !== '') window.location.reload()
}
