import { Drawing } from '../../kit/Drawing'
import { isThere, NotYet } from '../../kit/Fetched'
import { ThermometerSaid } from '../../kit/Thermometer'
import { Link } from '@tanstack/react-router'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { usePlaces, useReadPlace, useReadings, useStrike } from '../../api/places'
import { TextField, WhenField } from '../../kit/Fields'
import { Fold, Page } from '../../kit/Page'
import { Empty, Failed, Findings, Loading, Refused } from '../../kit/States'
import { PieceTag } from '../../kit/Tag'
import { useFormat } from '../../units'
import { AirCurves } from '../hang/AirWeek'
import { LogCurve } from './LogCurve'
import { LogFile } from './LogFile'

type Place = Schemas['PlaceView']
type Bands = Schemas['WarmthBands']

/** How cold it is wherever meat lies, and was. */
export function Cold() {
  const format = useFormat()
  const places = usePlaces()
  if (!isThere(places)) return <NotYet of={[places]} what="the places" page="How cold it is" />
  const bands = places.data.bands
  const list = [...places.data.places].sort((a, b) => rank(a) - rank(b))
  return (
    <Page
      title="How cold it is"
      lead={`A cure wants ${format.heat(bands.cold_c)} to ${format.heat(bands.warm_c)}. Days under that do not count; a day over ${format.heat(bands.spoils_c)}, and nobody eats what lay there.`}
    >
      {list.length === 0 ? (
        <Empty title="No cold place is listed">
          <p>List your fridge, porch, garage or cool box, and its temperature is kept here.</p>
          <Link to="/settings" className="press press-main bench mt-4">
            List the places
          </Link>
        </Empty>
      ) : (
        <div className="grid gap-6">
          {list.map((p) => (
            <PlaceLog key={p.id} place={p} bands={bands} />
          ))}
        </div>
      )}
    </Page>
  )
}

/** What gives pause first, then what has a log, then what meat lies in. */
const rank = (p: Place) => (p.findings.length > 0 ? 0 : p.readings > 0 ? 1 : p.lies.length > 0 ? 2 : 3)

const SPANS = [1, 3, 14, 60]

function PlaceLog({ place, bands }: { place: Place; bands: Bands }) {
  const format = useFormat()
  const [days, setDays] = useState(3)
  return (
    <section id={`place-${place.id}`} aria-label={place.name} className="table-top grid scroll-mt-32 gap-3 p-3 sm:p-4">
      <div className="grid gap-x-6 gap-y-2 sm:grid-cols-[1fr_auto]">
        <div>
          <h2>{place.name}</h2>
          <p className="text-[0.95rem] text-soft">
            {place.kind_name}
            {place.stands_in && <>, stands in {place.stands_in}</>}
            {place.asked && ', asked for in the morning, at midday and at night'}
          </p>
          {place.care && <p className="text-[0.95rem] text-soft">{place.care}</p>}
        </div>
        <p className="sm:text-right">
          {place.celsius == null ? (
            <span className="text-soft">nobody looked yet</span>
          ) : (
            <>
              <span className="figures text-4xl font-semibold">{format.heat(place.celsius)}</span>
              <span className="block text-[0.95rem] text-soft">{place.at && format.moment(place.at)}</span>
            </>
          )}
        </p>
      </div>
      <Findings list={place.findings} />
      {place.lies.length > 0 && (
        <p className="flex flex-wrap items-center gap-2">
          <span className="text-soft">lies here:</span>
          {place.lies.map((l) => (
            <PieceTag key={l.id} id={l.id} tag={l.tag} />
          ))}
        </p>
      )}
      {place.sensor && <ThermometerSaid sensor={place.sensor} />}
      {place.readings > 0 && (
        <div>
          <div role="group" aria-label={`Days of ${place.name}`} className="no-print flex flex-wrap">
            {SPANS.map((n) => (
              <button
                key={n}
                type="button"
                aria-pressed={days === n}
                className={`min-h-11 border px-3 ${days === n ? 'border-violet bg-violet-wash font-semibold text-violet' : 'border-line'}`}
                onClick={() => setDays(n)}
              >
                {n === 1 ? 'a day' : `${n} days`}
              </button>
            ))}
          </div>
          <Drawing of={place.name}>
            {place.dries ? <AirCurves place={place} days={days} /> : <Curve place={place} days={days} bands={bands} />}
          </Drawing>
        </div>
      )}
      <Stretches list={place.stretches} bands={bands} />
      <div className="no-print grid gap-2">
        <ReadByHand place={place} />
        <Fold title="Out of a file">
          <LogFile place={place} />
        </Fold>
        <Fold title="The newest readings">
          <Newest place={place} days={days} />
        </Fold>
      </div>
    </section>
  )
}

function Curve({ place, days, bands }: { place: Place; days: number; bands: Bands }) {
  const readings = useReadings(place.id, days)
  if (readings.isPending) return <Loading what="its curve" />
  if (readings.isError) return <Failed error={readings.error} onRetry={() => readings.refetch()} />
  return <LogCurve points={readings.data.points} name={place.name} bands={bands} />
}

/** When it was too cold or too warm in the last two weeks. */
function Stretches({ list, bands }: { list: Schemas['StretchView'][]; bands: Bands }) {
  const format = useFormat()
  const long = list.filter((s) => s.hours >= 0.25 || s.running)
  if (long.length === 0) return null
  const said: Record<Schemas['WarmthBand'], string> = {
    too_cold: `under ${format.heat(bands.cold_c)}`,
    too_warm: `over ${format.heat(bands.warm_c)}`,
    spoiling: `over ${format.heat(bands.spoils_c)}`,
  }
  return (
    <Fold title={`Too cold or too warm in two weeks: ${long.length}`}>
      <ul className="figures">
        {long.map((s) => (
          <li key={s.band + s.from}>
            {said[s.band]} for {s.hours.toFixed(1)} h, {format.moment(s.from)} to {s.running ? 'now' : format.moment(s.to)}
          </li>
        ))}
      </ul>
    </Fold>
  )
}

function ReadByHand({ place }: { place: Place }) {
  const [text, setText] = useState('')
  const [at, setAt] = useState('')
  const read = useReadPlace(place.id)
  const wrong = (field: string) => (read.error ? problemOf(read.error).field(`readings[0].${field}`) : undefined)
  const send = (keep = false, second?: string) =>
    read.mutate(
      { readings: [{ temperature: text, at: second ?? (at || null) }], keep_as_typed: keep },
      {
        onSuccess: () => {
          setText('')
          setAt('')
        },
      },
    )
  return (
    <form
      aria-label={`Read ${place.name}`}
      className="grid items-start gap-x-3 sm:grid-cols-[12rem_auto_1fr]"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <TextField
        label={`How warm is it in ${place.name}`}
        value={text}
        onChange={setText}
        inputMode="decimal"
        error={wrong('temperature')}
      />
      <button
        type="submit"
        className="press press-main bench mb-6 sm:mt-7 sm:mb-0"
        disabled={read.isPending || text.trim() === ''}
      >
        Write it down
      </button>
      <WhenField value={at} onChange={setAt} error={wrong('at')} />
      {read.error != null && !wrong('temperature') && !wrong('at') && (
        <div className="sm:col-span-3">
          <Refused error={read.error} onKeep={(second) => send(true, second)} busy={read.isPending} />
        </div>
      )}
    </form>
  )
}

/** The newest readings, each with the way to strike it out. */
function Newest({ place, days }: { place: Place; days: number }) {
  const format = useFormat()
  const readings = useReadings(place.id, days)
  const strike = useStrike(place.id)
  const [chosen, setChosen] = useState<Schemas['ReadingView']>()
  const [reason, setReason] = useState('')
  if (!readings.data) return null
  if (readings.data.newest.length === 0) return <p className="text-soft">Nothing was read in these days.</p>
  const out = (all: boolean) =>
    chosen &&
    strike.mutate(all ? { batch: chosen.batch, readings: [], reason } : { readings: [chosen.id], reason }, {
      onSuccess: () => {
        setChosen(undefined)
        setReason('')
      },
    })
  return (
    <div className="grid gap-2">
      <ul className="figures max-h-80 divide-y divide-line overflow-y-auto border border-line" tabIndex={0} aria-label="Readings">
        {readings.data.newest.map((r) => (
          <li key={r.id} className="flex flex-wrap items-center gap-x-4 px-2">
            <span className={r.struck ? 'line-through' : ''}>
              {format.moment(r.at)} <strong>{format.heat(r.celsius)}</strong>
            </span>
            <span className="grow text-[0.92rem] text-soft">
              {r.source === 'hand' ? 'by hand' : r.source === 'csv' ? 'out of a file' : 'thermometer'}
              {r.struck && `; struck out: ${r.struck}`}
            </span>
            {!r.struck && (
              <button type="button" className="quiet" onClick={() => setChosen(r)}>
                Strike out<span className="sr-only"> {format.moment(r.at)}</span>
              </button>
            )}
          </li>
        ))}
      </ul>
      {chosen && (
        <div className="grid max-w-xl gap-2 border border-line p-3">
          <TextField
            label={`Why ${format.heat(chosen.celsius)} of ${format.moment(chosen.at)} does not count`}
            value={reason}
            onChange={setReason}
            error={strike.error ? problemOf(strike.error).field('reason') : undefined}
          />
          <p className="flex flex-wrap gap-2">
            <button type="button" className="press" disabled={strike.isPending} onClick={() => out(false)}>
              Strike it out
            </button>
            <button type="button" className="press" disabled={strike.isPending} onClick={() => out(true)}>
              And all that came with it
            </button>
            <button type="button" className="quiet" onClick={() => setChosen(undefined)}>
              Leave it
            </button>
          </p>
        </div>
      )}
    </div>
  )
}
