import { beforeEach, describe, expect, it, vi } from 'vitest'

type Drafts = typeof import('./drafts')
type Device = typeof import('./device')

let drafts: Drafts
let device: Device

/** A page that was just opened: what is kept on the device is there, nothing else is. */
async function open() {
  vi.resetModules()
  device = await import('./device')
  drafts = await import('./drafts')
}

const typed = (of: string) => device.kept(`draft.${device.ledgerHere()}.${of}`)

beforeEach(async () => {
  localStorage.clear()
  await open()
  device.keep('ledger', 'one')
})

describe('a draft', () => {
  it('outlives the page', async () => {
    drafts.putBack('hang.7', { reading: '1985' }, '1985')
    await open()
    expect(JSON.parse(typed('hang.7') ?? '{}')).toMatchObject({ value: { reading: '1985' }, words: '1985' })
  })

  it('is of one ledger, and of no other', () => {
    drafts.putBack('hang.7', { reading: '1985' }, '1985')
    device.keep('ledger', 'two')
    expect(typed('hang.7')).toBeUndefined()
    expect(drafts.newestDraft('hang.', [7])).toBeUndefined()
  })

  it('comes back after a refusal, unless something else was typed meanwhile', () => {
    drafts.putBackIfFree({ of: 'hang.7', value: 'first', words: 'first' })
    drafts.putBackIfFree({ of: 'hang.7', value: 'second', words: 'second' })
    expect(typed('hang.7')).toContain('first')
  })

  it('is dropped when it was written, unless it changed meanwhile', () => {
    drafts.putBack('hang.7', { reading: '1985' }, '1985')
    drafts.dropIfSame({ of: 'hang.7', value: { reading: '198' } })
    expect(typed('hang.7')).toBeDefined()
    drafts.dropIfSame({ of: 'hang.7', value: { reading: '1985' } })
    expect(typed('hang.7')).toBeUndefined()
  })

  it('is found by what was typed for last', () => {
    vi.useFakeTimers()
    vi.setSystemTime(1_000)
    drafts.putBack('hang.7', 'a', 'a')
    vi.setSystemTime(2_000)
    drafts.putBack('hang.9', 'b', 'b')
    expect(drafts.newestDraft('hang.', [7, 8, 9])).toBe(9)
    expect(drafts.newestDraft('hang.', [7, 8])).toBe(7)
    expect(drafts.newestDraft('hang.', [8])).toBeUndefined()
    vi.useRealTimers()
  })

  it('is given up for what is no longer here, and only for that', () => {
    drafts.putBack('hang.7', 'a', '1985 g of BE1-2')
    drafts.putBack('hang.9', 'b', 'b')
    drafts.giveUpLeftovers('hang.', [9])
    expect(typed('hang.7')).toBeUndefined()
    expect(typed('hang.9')).toBeDefined()
  })

  it('follows what another tab of the device types', () => {
    drafts.putBack('hang.7', 'mine', 'mine')
    const name = `manifest.draft.one.hang.7`
    localStorage.setItem(name, JSON.stringify({ value: 'theirs', words: 'theirs', at: 5 }))
    window.dispatchEvent(new StorageEvent('storage', { key: name }))
    drafts.dropIfSame({ of: 'hang.7', value: 'mine' })
    expect(typed('hang.7')).toContain('theirs')
  })
})

describe('a device that keeps nothing', () => {
  it('holds a draft as long as the page lives', () => {
    const full = vi.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new Error('full')
    })
    drafts.putBack('hang.7', 'kept', 'kept')
    expect(typed('hang.7')).toContain('kept')
    full.mockRestore()
  })
})
