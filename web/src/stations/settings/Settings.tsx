import { isThere, NotYet } from '../../kit/Fetched'
import { useState } from 'react'
import { problemOf, type Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { useSettings, useSettle } from '../../api/settings'
import { Choice, Select, TextField } from '../../kit/Fields'
import { choosable, SchoolOptions } from '../../kit/schools'
import { MainAction, Page } from '../../kit/Page'
import { Refused } from '../../kit/States'
import { Backups } from './Backups'
import { CalendarOut } from './CalendarOut'
import { Clock } from './Clock'
import { EquipmentForm } from './Equipment'

type Household = Schemas['Household']

/** What the household has settled on. */
export function Settings() {
  const settings = useSettings()
  if (!isThere(settings)) return <NotYet of={[settings]} what="the settings" page="Household" />
  return (
    <Page title="Household" lead="Plans follow these settings at once; what was weighed stays as it was weighed.">
      <div className="grid grid-cols-1 gap-7">
        {settings.data.ahead && <Clock ahead={settings.data.ahead} />}
        <Form before={settings.data.household} today={settings.data.today} />
        <EquipmentForm key={JSON.stringify(settings.data.household.equipment)} household={settings.data.household} />
        <CalendarOut />
        <Backups />
      </div>
    </Page>
  )
}

function Form({ before, today }: { before: Household; today: string }) {
  const catalogue = useCatalogue().data
  // What somebody else settles on meanwhile stays, but for what is changed here.
  const [first, setFirst] = useState(before)
  const [home, setHome] = useState(before)
  const [typed, setTyped] = useState({
    fine: String(before.scales.fine_division_g),
    meat: String(before.scales.meat_division_g),
    hour: String(before.cut_off_hour),
    pack: String(before.pack_g),
    close: String(Math.round((before.close_enough ?? 0.01) * 1e4) / 100),
    cap: before.cap_ppm == null ? '' : String(before.cap_ppm),
    known: before.fine_check ? String(before.fine_check.mass_g) : '',
    showed: before.fine_check ? String(before.fine_check.showed_g) : '',
  })
  const [saved, setSaved] = useState(false)
  const save = useSettle()
  const set = (change: Partial<Household>) => {
    setSaved(false)
    setHome((h) => ({ ...h, ...change }))
  }
  const units = (change: Partial<Household['units']>) => set({ units: { ...home.units, ...change } })
  const wrong = (field: string) => (save.error ? problemOf(save.error).field(field) : undefined)
  const number = (text: string) => Number(text.replace(',', '.'))
  // A check that was not typed anew keeps its day.
  const check = (): Household['fine_check'] => {
    const [mass_g, showed_g] = [number(typed.known), number(typed.showed)]
    if (typed.known.trim() + typed.showed.trim() === '') return null
    const old = home.fine_check
    if (old && old.mass_g === mass_g && old.showed_g === showed_g) return old
    return { mass_g: mass_g || 0, showed_g: showed_g || 0, on: today }
  }
  const send = () => {
    const hour = number(typed.hour)
    const typedAll: Household = {
      ...home,
      pack_g: number(typed.pack) || 0,
      // What is no number is refused as what cannot be, and stays.
      close_enough: typed.close.trim() === '' || !Number.isFinite(number(typed.close)) ? -1 : (number(typed.close) ?? -100) / 100,
      cap_ppm: typed.cap.trim() === '' ? null : number(typed.cap) || 0,
      fine_check: check(),
      scales: { fine_division_g: number(typed.fine) || 0, meat_division_g: number(typed.meat) || 0 },
      cut_off_hour: Number.isInteger(hour) && typed.hour.trim() !== '' && Math.abs(hour) < 100 ? hour : 99,
    }
    const mine = Object.entries(typedAll).filter(
      ([key, value]) => key !== 'equipment' && JSON.stringify(value) !== JSON.stringify(first[key as keyof Household]),
    )
    const next: Household = { ...before, ...Object.fromEntries(mine) }
    save.mutate(next, {
      onSuccess: () => {
        setFirst(next)
        setSaved(true)
      },
    })
  }
  return (
    <form
      className="table-top grid max-w-3xl gap-4 p-4"
      onSubmit={(e) => {
        e.preventDefault()
        send()
      }}
    >
      <TextField label="Name on sheets and labels" value={home.name} onChange={(name) => set({ name })} error={wrong('name')} />
      <Choice
        label="Weight"
        value={home.units.mass}
        onChange={(mass) => units({ mass })}
        options={[
          { value: 'metric', label: 'kg and g' },
          { value: 'imperial', label: 'lb and oz' },
        ]}
      />
      <Choice
        label="Thickness"
        value={home.units.length}
        onChange={(length) => units({ length })}
        options={[
          { value: 'mm', label: 'mm' },
          { value: 'inch', label: 'inches' },
        ]}
      />
      <Choice
        label="Heat"
        value={home.units.heat}
        onChange={(heat) => units({ heat })}
        options={[
          { value: 'celsius', label: '°C' },
          { value: 'fahrenheit', label: '°F' },
        ]}
      />
      <Select
        label="Spoons, cups and gallons"
        value={home.units.measures ?? ''}
        onChange={(measures) => units({ measures: (measures || null) as Household['units']['measures'] })}
        hint="For amounts that are typed by the cup or the gallon. A recipe can have others."
      >
        <option value="">US beside pounds and gallons, else 5, 15 and 250 ml</option>
        <option value="us">US: cup 237 ml, gallon 3.79 l</option>
        <option value="metric">metric: cup 250 ml, gallon 4.55 l</option>
        <option value="imperial">imperial: cup 284 ml, gallon 4.55 l</option>
      </Select>
      <div className="grid gap-x-4 sm:grid-cols-2">
        <TextField
          label="Fine scale steps by, g"
          value={typed.fine}
          onChange={(fine) => setTyped((t) => ({ ...t, fine }))}
          inputMode="decimal"
          hint="The scale for cure and spices: 1, 0.1 or 0.01."
          error={wrong('scales.fine_division_g')}
        />
        <TextField
          label="Meat scale steps by, g"
          value={typed.meat}
          onChange={(meat) => setTyped((t) => ({ ...t, meat }))}
          inputMode="decimal"
          hint="1, 5 or 10."
          error={wrong('scales.meat_division_g')}
        />
        <Select
          label="School of cure time"
          value={home.school ?? ''}
          onChange={(school) => set({ school: school || null })}
          hint="All schools stay visible side by side."
          error={wrong('school')}
        >
          <option value="">the longer of 3 days an inch and 2, and 18 mm a week</option>
          <SchoolOptions schools={catalogue?.schools ?? []} />
        </Select>
        <Select
          label="Rule set"
          value={home.rule_set}
          onChange={(rule_set) => set({ rule_set })}
          hint="Your local code comes first."
          error={wrong('rule_set')}
        >
          {catalogue?.rule_sets.map((r) => (
            <option key={r.key} value={r.key}>
              {r.name}
            </option>
          ))}
        </Select>
        <TextField
          label="Your own cap, ppm nitrite"
          value={typed.cap}
          onChange={(cap) => setTyped((t) => ({ ...t, cap }))}
          inputMode="numeric"
          hint="Stricter than the rules, for everything; empty: the rules alone."
          error={wrong('cap_ppm')}
        />
        <TextField
          label="Known mass on the fine scale, g"
          value={typed.known}
          onChange={(known) => setTyped((t) => ({ ...t, known }))}
          inputMode="decimal"
          hint={home.fine_check ? `Checked on ${home.fine_check.on}.` : 'A coin or a weight of which you know the mass.'}
          error={wrong('fine_check.mass_g')}
        />
        <TextField
          label="What the scale showed, g"
          value={typed.showed}
          onChange={(showed) => setTyped((t) => ({ ...t, showed }))}
          inputMode="decimal"
          error={wrong('fine_check.showed_g')}
        />
        <TextField
          label="Day cut-off hour"
          value={typed.hour}
          onChange={(hour) => setTyped((t) => ({ ...t, hour }))}
          inputMode="numeric"
          hint="A piece put in before it counts that day."
          error={wrong('cut_off_hour')}
        />
        <TextField
          label="Time zone"
          value={home.time_zone}
          onChange={(time_zone) => set({ time_zone })}
          hint="By its name, such as UTC."
          error={wrong('time_zone')}
        />
        <TextField
          label="A pack usually weighs, g"
          value={typed.pack}
          onChange={(pack) => setTyped((t) => ({ ...t, pack }))}
          inputMode="decimal"
          hint="Plans count packs by it."
          error={wrong('pack_g')}
        />
        <TextField
          label="Close enough at the hook, %"
          value={typed.close}
          onChange={(close) => setTyped((t) => ({ ...t, close }))}
          inputMode="decimal"
          hint="So much of its start may be missing at a target: 1, at most 3."
          error={wrong('close_enough')}
        />
        <TextField label="Currency" value={home.currency} onChange={(currency) => set({ currency })} error={wrong('currency')} />
      </div>
      <OwnSchools chosen={home.schools ?? {}} onChange={(schools) => set({ schools })} wrong={wrong} />
      <Choice
        label="Light"
        value={home.theme}
        onChange={(theme) => set({ theme })}
        options={[
          { value: 'device', label: 'as the device' },
          { value: 'light', label: 'light' },
          { value: 'dark', label: 'dark, for a dim garage' },
        ]}
      />
      <Refused error={save.error} />
      <MainAction>
        <button type="submit" className="press press-main bench" disabled={save.isPending}>
          Settle on this
        </button>
        {saved && (
          <p role="status" className="self-center font-semibold text-good">
            Settled.
          </p>
        )}
      </MainAction>
    </form>
  )
}

interface OwnSchoolsProps {
  chosen: Record<string, string>
  onChange: (chosen: Record<string, string>) => void
  wrong: (field: string) => string | undefined
}

/** Products that are timed by a school of their own. */
function OwnSchools({ chosen, onChange, wrong }: OwnSchoolsProps) {
  const catalogue = useCatalogue().data
  if (!catalogue) return null
  const cured = catalogue.builds.filter((b) => b.dose)
  const free = cured.filter((b) => !(b.key in chosen))
  return (
    <fieldset className="grid gap-x-4 gap-y-1 sm:grid-cols-2">
      <legend className="font-semibold">Products with a school of their own</legend>
      {Object.entries(chosen).map(([build, school]) => (
        <Select
          key={build}
          label={cured.find((b) => b.key === build)?.name ?? build}
          value={school}
          onChange={(to) => {
            const { [build]: _, ...others } = chosen
            onChange(to ? { ...others, [build]: to } : others)
          }}
          error={wrong(`schools.${build}`)}
        >
          <option value="">as the house has it</option>
          <SchoolOptions schools={catalogue.schools} />
        </Select>
      ))}
      <Select
        label="Another product"
        value=""
        onChange={(build) => build && onChange({ ...chosen, [build]: choosable(catalogue.schools)[0]?.key ?? '' })}
      >
        <option value="">choose</option>
        {free.map((b) => (
          <option key={b.key} value={b.key}>
            {b.name}
          </option>
        ))}
      </Select>
    </fieldset>
  )
}
