import { ThermometerSaid } from '../../../kit/Thermometer'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../../api/client'
import { type Run, useLookAtProbes, useReadProbes, useStrikeProbe, useTakeProbes } from '../../../api/runs'
import { AmountField, Choice, Select, TextField, WhenField } from '../../../kit/Fields'
import { Fold } from '../../../kit/Page'
import { Refused } from '../../../kit/States'
import { useFormat } from '../../../units'
import { useDoing } from './act'
import { Refusal } from './Refusal'

/** The probes: where each is and what it says; read by hand, out of a file, checked in ice. */
export function Probes({ run }: { run: Run }) {
  const format = useFormat()
  const s = run.sensor
  return (
    <section aria-label="Probes" className="table-top grid gap-2 p-3">
      <h2>Probes</h2>
      {s && <ThermometerSaid sensor={s} />}
      {run.probes.length === 0 ? (
        <p className="text-soft">No probe is set. Choose a piece, then Probe; and hang one into the air.</p>
      ) : (
        <ul className="figures grid gap-1">
          {run.probes.map((p) => (
            <li key={p.no} className="flex flex-wrap items-baseline gap-x-3">
              <strong>probe {p.no}</strong>
              <span className="grow">
                {p.piece != null
                  ? `in ${run.pieces.find((x) => x.id === p.piece)?.tag}`
                  : p.zone
                    ? `in the air of ${p.zone}`
                    : 'not set'}
                <span className="text-soft">
                  {p.checked
                    ? `, checked: ${p.offset_c >= 0 ? '+' : '−'}${degrees(Math.abs(p.offset_c), format.units.heat)}`
                    : ', not checked in ice'}
                </span>
              </span>
              <span>{p.last ? `${format.heat(p.last.celsius)} at ${format.clock(p.last.at)}` : 'nothing said'}</span>
            </li>
          ))}
        </ul>
      )}
      {!run.ended && (
        <>
          <Fold title="Hang a probe into the air">
            <IntoAir run={run} />
          </Fold>
          <Fold title="Read by hand">
            <ByHand run={run} />
          </Fold>
          <Fold title="Check a probe in ice or boiling water">
            <CheckProbe run={run} />
          </Fold>
        </>
      )}
      <Fold title="Out of a file of the thermometer">
        <OutOfFile run={run} />
      </Fold>
      {run.readings > 0 && (
        <Fold title="Strike readings out">
          <Strike run={run} />
        </Fold>
      )}
      {run.thinned && (
        <p className="text-[0.95rem] text-soft">
          Thinned: {run.thinned.kept} readings kept of {run.thinned.kept + run.thinned.dropped}; no dropped one was further than
          half a degree off the line.
        </p>
      )}
    </section>
  )
}

/** A difference of temperatures. */
const degrees = (c: number, unit: Schemas['HeatUnit']) =>
  unit === 'celsius' ? `${c.toFixed(1)} °C` : `${(c * 1.8).toFixed(1)} °F`

/** The next probe that sits nowhere. */
const nextFree = (run: Run) => {
  const taken = new Set(run.probes.filter((p) => p.piece != null || p.zone).map((p) => p.no))
  return [4, 3, 2, 1].find((no) => !taken.has(no)) ?? Math.max(4, ...taken) + 1
}

const numbers = (run: Run) =>
  Array.from({ length: Math.max(4, nextFree(run), ...run.probes.map((p) => p.no)) }, (_, i) => (
    <option key={i} value={i + 1}>
      probe {i + 1}
    </option>
  ))

function IntoAir({ run }: { run: Run }) {
  const doing = useDoing(run)
  const [no, setNo] = useState(String(nextFree(run)))
  const [zone, setZone] = useState(run.zones[0]?.name ?? '')
  return (
    <div className="grid gap-x-3 sm:grid-cols-2">
      <Select label="Which" value={no} onChange={setNo}>
        {numbers(run)}
      </Select>
      <Select label="Zone" value={zone} onChange={setZone}>
        {run.zones.map((z) => (
          <option key={z.name}>{z.name}</option>
        ))}
      </Select>
      <div className="sm:col-span-2">
        <Refusal doing={doing} />
        <button
          type="button"
          className="press press-main bench"
          disabled={doing.busy}
          onClick={() => doing.act([{ act: 'probe_set', probe: Number(no), zone }])}
        >
          Probe {no} into the air of {zone}
        </button>
      </div>
    </div>
  )
}

function ByHand({ run }: { run: Run }) {
  const read = useReadProbes(run.id)
  const air = useDoing(run)
  const [what, setWhat] = useState('air')
  const [zone, setZone] = useState(run.zones[0]?.name ?? '')
  const [text, setText] = useState('')
  const [at, setAt] = useState('')
  const wrong = (field: string) => (read.error ? problemOf(read.error).field(`readings[0].${field}`) : undefined)
  const done = () => {
    setText('')
    setAt('')
  }
  const send = (keep = false, second?: string) =>
    what === 'air'
      ? air.act([{ act: 'chamber_read', zone, warmth: text }], done, second ?? at)
      : read.mutate(
          { readings: [{ probe: Number(what), temperature: text, at: second ?? (at || null) }], keep_as_typed: keep },
          { onSuccess: done },
        )
  return (
    <form
      aria-label="Read by hand"
      className="grid gap-x-3 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <Select label="What is read" value={what} onChange={setWhat}>
        <option value="air">the air</option>
        {numbers(run)}
      </Select>
      {what === 'air' && (
        <Select label="Zone" value={zone} onChange={setZone}>
          {run.zones.map((z) => (
            <option key={z.name}>{z.name}</option>
          ))}
        </Select>
      )}
      <AmountField
        label="It says"
        quantity="temperature"
        value={text}
        onChange={setText}
        error={wrong('temperature') ?? air.wrong('warmth')}
      />
      <div className="sm:col-span-2">
        <WhenField value={at} onChange={setAt} error={wrong('at') ?? air.when} />
        {read.error != null && !wrong('temperature') && !wrong('at') && (
          <Refused error={read.error} onKeep={(second) => send(true, second)} busy={read.isPending} />
        )}
        {!air.wrong('warmth') && <Refusal doing={air} />}
        <button type="submit" className="press press-main bench" disabled={read.isPending || air.busy || text.trim() === ''}>
          Write the reading down
        </button>
      </div>
    </form>
  )
}

function CheckProbe({ run }: { run: Run }) {
  const doing = useDoing(run)
  const [no, setNo] = useState('1')
  const [bath, setBath] = useState<Schemas['Bath']>('ice')
  const [read, setRead] = useState('')
  const [high, setHigh] = useState('')
  return (
    <form
      aria-label="Check a probe"
      className="grid gap-1"
      onSubmit={(e) => {
        e.preventDefault()
        doing.act([{ act: 'probe_checked', probe: Number(no), bath, read, altitude_m: high ? Number(high) : null }], () =>
          setRead(''),
        )
      }}
    >
      <Choice
        label="In what"
        value={bath}
        onChange={setBath}
        options={[
          { value: 'ice', label: 'Ice and water, stirred' },
          { value: 'boiling', label: 'Boiling water' },
        ]}
      />
      <div className="grid gap-x-3 sm:grid-cols-3">
        <Select label="Which probe" value={no} onChange={setNo}>
          {numbers(run)}
        </Select>
        <AmountField label="It says there" quantity="temperature" value={read} onChange={setRead} error={doing.wrong('read')} />
        {bath === 'boiling' && (
          <TextField
            label="Metres above the sea"
            value={high}
            onChange={setHigh}
            inputMode="numeric"
            hint="a degree less for every 300 m"
            error={doing.wrong('altitude_m')}
          />
        )}
      </div>
      {!doing.wrong('read') && <Refusal doing={doing} />}
      <button type="submit" className="press press-main bench justify-self-start" disabled={doing.busy || read.trim() === ''}>
        Keep what it is off by
      </button>
    </form>
  )
}

/** A file with a column for each probe: what is what is shown, and can be changed, before anything is written. */
function OutOfFile({ run }: { run: Run }) {
  const format = useFormat()
  const look = useLookAtProbes(run.id)
  const take = useTakeProbes(run.id)
  const [file, setFile] = useState<File>()
  const [unit, setUnit] = useState('')
  const [columns, setColumns] = useState('')
  const again = (change: { unit?: string; probes?: string }) =>
    file && look.mutate({ file, columns: { unit, probes: columns, ...change } })
  const found = look.data
  const matched = (probe: number, column: string) => {
    const next = (found?.probes ?? [])
      .map((p) => (p.probe === probe ? { ...p, column: column === '' ? -1 : Number(column) } : p))
      .filter((p) => p.column >= 0)
      .map((p) => `${p.probe}:${p.column}`)
      .join(',')
    setColumns(next)
    again({ probes: next })
  }
  return (
    <div className="grid gap-2">
      <label className="grid gap-1 font-semibold">
        A text file with a time and a column for each probe (CSV)
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          className="field py-2"
          onChange={(e) => {
            const chosen = e.target.files?.[0]
            setFile(chosen)
            setColumns('')
            setUnit('')
            take.reset()
            if (chosen) look.mutate({ file: chosen, columns: {} })
            else look.reset()
          }}
        />
      </label>
      {look.isPending && <p role="status">Reading it …</p>}
      {look.error != null && <Refused error={look.error} />}
      {found && file && !take.data && (
        <>
          <Select
            label="Degrees"
            value={unit || found.columns.unit}
            onChange={(v) => {
              setUnit(v)
              again({ unit: v })
            }}
          >
            <option value="celsius">Celsius</option>
            <option value="fahrenheit">Fahrenheit</option>
          </Select>
          <div className="grid gap-x-3 sm:grid-cols-2">
            {found.probes.map((p) => (
              <Select
                key={p.probe}
                label={`Probe ${p.probe}`}
                value={String(p.column)}
                onChange={(v) => matched(p.probe, v)}
                hint={
                  p.low_c != null && p.high_c != null
                    ? `${p.readings} readings, ${format.heat(p.low_c)} to ${format.heat(p.high_c)}`
                    : 'no reading'
                }
              >
                <option value="">leave it out</option>
                {found.names.map((name, i) => (
                  <option key={i} value={i}>
                    {name}
                  </option>
                ))}
              </Select>
            ))}
          </div>
          <p className="figures">
            <strong>{found.in_all}</strong> readings
            {found.from && found.to && ` from ${format.moment(found.from)} to ${format.moment(found.to)}`}
            {found.before > 0 && `; ${found.before} from before the run was set up are left out`}
            {found.refused_in_all > 0 && `; ${found.refused_in_all} rows are refused`}.
          </p>
          {found.refused.length > 0 && (
            <ul className="figures max-h-40 overflow-y-auto text-[0.95rem]" tabIndex={0} aria-label="Refused rows">
              {found.refused.map((r, i) => (
                <li key={i}>
                  line {r.line}: {r.why}
                </li>
              ))}
            </ul>
          )}
          <button
            type="button"
            className="press press-main bench justify-self-start"
            disabled={found.in_all === 0 || take.isPending || look.isPending}
            onClick={() => take.mutate({ file, columns: { unit, probes: columns } })}
          >
            Take {found.in_all} readings
          </button>
        </>
      )}
      {take.error != null && <Refused error={take.error} />}
      {take.data && (
        <p role="status" className="border-l-8 border-good bg-good-wash px-3 py-2 font-semibold">
          {take.data.added} readings taken
          {take.data.doubled > 0 && `, ${take.data.doubled} were there already`}
          {take.data.refused_in_all > 0 && `, ${take.data.refused_in_all} rows refused`}.
        </p>
      )}
    </div>
  )
}

function Strike({ run }: { run: Run }) {
  const strike = useStrikeProbe(run.id)
  const [no, setNo] = useState('1')
  const [from, setFrom] = useState('')
  const [to, setTo] = useState('')
  const [reason, setReason] = useState('')
  const wrong = (field: string) => (strike.error ? problemOf(strike.error).field(field) : undefined)
  return (
    <form
      aria-label="Strike readings out"
      className="grid gap-x-3 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        strike.mutate({ probe: Number(no), from, to, reason }, { onSuccess: () => setReason('') })
      }}
    >
      <Select label="Which probe" value={no} onChange={setNo}>
        {numbers(run)}
      </Select>
      <TextField label="Why they do not count" value={reason} onChange={setReason} error={wrong('reason')} />
      <TextField label="From" value={from} onChange={setFrom} placeholder="2026-11-20T14:00" error={wrong('from')} />
      <TextField label="To" value={to} onChange={setTo} placeholder="2026-11-20T14:20" error={wrong('to')} />
      <div className="sm:col-span-2">
        {strike.error != null && !wrong('reason') && !wrong('from') && !wrong('to') && <Refused error={strike.error} />}
        {strike.data && <p role="status">{strike.data.struck} struck out.</p>}
        <button type="submit" className="press bench" disabled={strike.isPending || !from || !to}>
          Strike them out
        </button>
      </div>
    </form>
  )
}
