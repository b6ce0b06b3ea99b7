import type { Schemas } from '../../api/client'
import { useCatalogue } from '../../api/catalogue'
import { Select, TextField } from '../../kit/Fields'
import { SchoolOptions } from '../../kit/schools'
import type { Typed } from './draft'

interface Props {
  sheet: Schemas['Sheet']
  typed: Typed
  onType: (change: Partial<Typed>) => void
  wrong: (field: string) => string | undefined
}

/** What decides the time of this one dose: a school, the days of a recipe, the hours of a box, its zones. */
export function Times({ sheet, typed, onType, wrong }: Props) {
  const schools = useCatalogue().data?.schools ?? []
  const isBox = sheet.method === 'salt_box'
  const isSaid = [typed.school, typed.days, typed.hours, typed.zones, typed.turning].some((t) => t !== '')
  return (
    <details open={isSaid || undefined}>
      <summary className="quiet">Change its time</summary>
      <div className="mt-2 grid gap-x-4 sm:grid-cols-2">
        {isBox ? (
          <TextField
            label="Hours in the salt"
            value={typed.hours}
            onChange={(hours) => onType({ hours })}
            placeholder={sheet.pieces.map((p) => p.hours).join(', ')}
            hint="For all of them; empty: by the thickness of each."
            error={wrong('hours')}
          />
        ) : (
          <>
            <Select
              label="By which school"
              value={typed.school}
              onChange={(school) => onType({ school })}
              error={wrong('school')}
              hint={schools.find((s) => s.key === typed.school)?.words}
            >
              <option value="">as the house has it</option>
              <SchoolOptions schools={schools} />
            </Select>
            <TextField
              label="Days of a recipe"
              value={typed.days}
              onChange={(days) => onType({ days })}
              inputMode="numeric"
              hint="In the place of a school's."
              error={wrong('days')}
            />
          </>
        )}
        <Select label="How often it is turned" value={typed.turning} onChange={(turning) => onType({ turning })}>
          <option value="">as the product says</option>
          <option value="twice_a_day">morning and evening</option>
          <option value="daily">every day</option>
          <option value="every_second_day">every second day</option>
          <option value="at_half_time">once, at half time</option>
          <option value="left_alone">left alone</option>
        </Select>
        <TextField
          label="Thickness that counts"
          value={typed.zones}
          onChange={(zones) => onType({ zones })}
          hint="Rolled and tied, or two zones: 60 mm and 35 mm. The greatest rules."
          error={wrong('zones[0]') ?? wrong('zones[1]')}
        />
        {typed.zones !== '' && (
          <TextField
            label="Why"
            value={typed.zonesWhy}
            onChange={(zonesWhy) => onType({ zonesWhy })}
            placeholder="the rub went between the layers"
          />
        )}
      </div>
    </details>
  )
}
