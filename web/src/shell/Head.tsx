import { useCallback, useState } from 'react'
import { useLeftOver } from '../api/entries'
import { Tick } from '../kit/Fields'
import { Sheet } from '../kit/Sheet'
import { AskedAbout } from '../stations/weigh/AskedAbout'
import { Find } from './Find'
import { KEYS, setLetters, useLetters, useShortcuts } from './keys'
import { Rail } from './Rail'
import { Practice, PracticeMark } from './Practice'
import { Strip } from './Strip'
import { Alarms } from './Alarms'
import { Timers } from './Timers'

/** The rail with its strip, and what is looked up from there. */
export function Head() {
  const [open, setOpen] = useState<'find' | 'keys' | 'left'>()
  const close = () => setOpen(undefined)
  const onFind = useCallback(() => setOpen('find'), [])
  const onKeys = useCallback(() => setOpen('keys'), [])
  useShortcuts({ onFind, onKeys })
  return (
    <>
      <Rail>
        <Strip onFind={onFind} onKeys={onKeys} onLeftOver={() => setOpen('left')} />
        <Practice />
        <Alarms />
        <Timers />
      </Rail>
      <PracticeMark />
      <Sheet title="Find" open={open === 'find'} onClose={close}>
        <Find onDone={close} />
      </Sheet>
      <Sheet title="Keys" open={open === 'keys'} onClose={close}>
        <KeyList />
      </Sheet>
      <Sheet title="Not written yet" open={open === 'left'} onClose={close}>
        <LeftOver />
      </Sheet>
    </>
  )
}

function KeyList() {
  const letters = useLetters()
  return (
    <div className="grid gap-3">
      <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-2">
        {KEYS.map((k) => (
          <div key={k.keys} className={`contents ${k.isLetter && !letters ? 'text-soft line-through' : ''}`}>
            <dt className="figures font-semibold whitespace-nowrap">{k.keys}</dt>
            <dd>{k.words}</dd>
          </div>
        ))}
      </dl>
      <Tick label="Letters are shortcuts on this device" checked={letters} onChange={setLetters} />
    </div>
  )
}

/** What was refused after its form was left. */
function LeftOver() {
  const list = useLeftOver()
  if (list.length === 0) return <p className="text-soft">Everything is written, or was left out.</p>
  return (
    <div className="grid gap-3">
      <AskedAbout list={list} />
    </div>
  )
}
