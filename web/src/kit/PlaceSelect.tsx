import type { Schemas } from '../api/client'
import { useCatalogue } from '../api/catalogue'
import { useSettings } from '../api/settings'
import { Select } from './Fields'

interface Props {
  label: string
  /** What the place has to be for. */
  uses: Schemas['PlaceUse'][]
  value: string
  onChange: (place: string) => void
  error?: string
}

/** A place of the household that is for one of these; nothing where none is listed. */
export function PlaceSelect({ label, uses, value, onChange, error }: Props) {
  const kinds = useCatalogue().data?.place_kinds ?? []
  const listed = useSettings().data?.household.equipment?.places ?? []
  const fits = listed.filter((p) => kinds.some((k) => k.key === p.kind && k.uses.some((u) => uses.includes(u))))
  if (fits.length === 0) return null
  return (
    <Select label={label} value={value} onChange={onChange} error={error}>
      <option value="">not said</option>
      {fits.map((p) => (
        <option key={p.id} value={String(p.id)}>
          {p.name}
        </option>
      ))}
    </Select>
  )
}
