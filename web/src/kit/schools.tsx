import type { Schemas } from '../api/client'

type School = Schemas['TimeRule']

/** Schools of cure time that somebody can choose: an injected piece's follows from its pump. */
export const choosable = (schools: School[]) => schools.filter((s) => s.key !== 'injected')

/** The same as the options of a choice. */
export function SchoolOptions({ schools }: { schools: School[] }) {
  return choosable(schools).map((s) => (
    <option key={s.key} value={s.key}>
      {s.name}
    </option>
  ))
}
