import { useState } from 'react'
import type { Schemas } from '../../api/client'
import { type Columns, useLookAtLog, useTakeLog } from '../../api/places'
import { Select } from '../../kit/Fields'
import { Refused } from '../../kit/States'
import { useFormat } from '../../units'

/** A file of a thermometer: its columns are matched, its rows shown and the refused ones named before anything is written. */
export function LogFile({ place }: { place: Schemas['PlaceView'] }) {
  const [file, setFile] = useState<File>()
  const look = useLookAtLog(place.id)
  const take = useTakeLog(place.id)
  const format = useFormat()
  const again = (columns: Columns) => file && look.mutate({ file, columns })
  const choose = (chosen: File | undefined) => {
    setFile(chosen)
    take.reset()
    if (chosen) look.mutate({ file: chosen, columns: {} })
    else look.reset()
  }
  const found = look.data
  return (
    <div className="grid gap-3">
      <label className="grid gap-1 font-semibold">
        A text file with a date and a temperature in each row (CSV)
        <input
          type="file"
          accept=".csv,.txt,.tsv,text/csv,text/plain"
          className="field py-2"
          onChange={(e) => choose(e.target.files?.[0])}
        />
      </label>
      {look.isPending && <p role="status">Reading it …</p>}
      {look.error != null && <Refused error={look.error} />}
      {found && file && !take.data && (
        <>
          <Match look={found} onChange={again} />
          <p className="figures">
            <strong>{found.in_all}</strong> readings
            {found.from && found.to && (
              <>
                {' '}
                from {format.moment(found.from)} to {format.moment(found.to)}, {format.heat(found.low_c ?? 0)} to{' '}
                {format.heat(found.high_c ?? 0)}
              </>
            )}
            {found.warm_h >= 0.1 && (
              <>
                ; over {format.heat(4.444)} for {found.warm_h.toFixed(1)} h
              </>
            )}
            {found.spoiling_h >= 0.1 && (
              <>
                , over {format.heat(7)} for {found.spoiling_h.toFixed(1)} h
              </>
            )}
            {found.cold_h >= 0.1 && (
              <>
                ; under {format.heat(1)} for {found.cold_h.toFixed(1)} h
              </>
            )}
            .
          </p>
          <Preview look={found} />
          <RefusedRows rows={found.refused} inAll={found.refused_in_all} />
          <button
            type="button"
            className="press press-main bench justify-self-start"
            disabled={found.in_all === 0 || take.isPending || look.isPending}
            onClick={() => take.mutate({ file, columns: given(found.columns) })}
          >
            Take {found.in_all} readings into {place.name}
          </button>
        </>
      )}
      {take.error != null && <Refused error={take.error} />}
      {take.data && (
        <div role="status" className="border-l-8 border-good bg-good-wash px-3 py-2">
          <p className="font-semibold">
            {take.data.added} readings taken
            {take.data.doubled > 0 && `, ${take.data.doubled} were there already`}
            {take.data.refused_in_all > 0 && `, ${take.data.refused_in_all} rows refused`}.
          </p>
          <RefusedRows rows={take.data.refused} inAll={take.data.refused_in_all} />
        </div>
      )}
    </div>
  )
}

/** What the server understood, said again as what is wanted. */
const given = (c: Schemas['Columns']): Columns => ({ ...c, time: c.time ?? undefined, humidity: c.humidity ?? undefined })

function Match({ look, onChange }: { look: Schemas['LogLook']; onChange: (c: Columns) => void }) {
  const c = look.columns
  const set = (change: Columns) => onChange({ ...given(c), ...change })
  const options = look.names.map((name, i) => (
    <option key={i} value={i}>
      {name}
    </option>
  ))
  const number = (v: string) => (v === '' ? undefined : Number(v))
  return (
    <div className="grid gap-x-4 gap-y-1 sm:grid-cols-3">
      <Select label="Date" value={String(c.date)} onChange={(v) => set({ date: Number(v) })}>
        {options}
      </Select>
      <Select label="Time" value={c.time == null ? '' : String(c.time)} onChange={(v) => set({ time: number(v) })}>
        <option value="">with the date</option>
        {options}
      </Select>
      <Select label="Temperature" value={String(c.temperature)} onChange={(v) => set({ temperature: Number(v) })}>
        {options}
      </Select>
      <Select
        label="Humidity"
        value={c.humidity == null ? '' : String(c.humidity)}
        onChange={(v) => set({ humidity: number(v) })}
      >
        <option value="">none</option>
        {options}
      </Select>
      <Select label="Degrees" value={c.unit} onChange={(v) => set({ unit: v as Schemas['HeatUnit'] })}>
        <option value="celsius">Celsius</option>
        <option value="fahrenheit">Fahrenheit</option>
      </Select>
      <Select label="Dates are written" value={c.dates} onChange={(v) => set({ dates: v as Schemas['DateOrder'] })}>
        <option value="year_month_day">year, month, day</option>
        <option value="day_month_year">day, month, year</option>
        <option value="month_day_year">month, day, year</option>
      </Select>
    </div>
  )
}

function Preview({ look }: { look: Schemas['LogLook'] }) {
  const format = useFormat()
  if (look.rows.length === 0) return null
  return (
    <table className="figures text-[0.95rem]">
      <caption className="sr-only">The first readings as they are understood</caption>
      <thead>
        <tr className="text-left text-soft">
          <th className="pr-6 font-semibold">When</th>
          <th className="pr-6 font-semibold">Temperature</th>
          <th className="font-semibold">Humidity</th>
        </tr>
      </thead>
      <tbody>
        {look.rows.map((r, i) => (
          <tr key={i}>
            <td className="pr-6">{format.moment(r.at)}</td>
            <td className="pr-6">{format.heat(r.celsius)}</td>
            <td>{r.humidity == null ? '' : `${Math.round(r.humidity * 100)} %`}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** Every row that could not be taken, with its line and why. */
function RefusedRows({ rows, inAll }: { rows: Schemas['Refused'][]; inAll: number }) {
  if (inAll === 0) return null
  return (
    <div className="border-l-8 border-caution bg-caution-wash px-3 py-2">
      <p className="font-semibold text-caution">
        {inAll === 1 ? 'One row is refused' : `${inAll} rows are refused`}; the others are taken.
      </p>
      <ul className="figures max-h-60 overflow-y-auto text-[0.95rem]" tabIndex={0} aria-label="Refused rows">
        {rows.map((r) => (
          <li key={r.line}>
            line {r.line}: {r.why} <span className="text-soft">{r.row}</span>
          </li>
        ))}
        {inAll > rows.length && <li>… and {inAll - rows.length} more</li>}
      </ul>
    </div>
  )
}
