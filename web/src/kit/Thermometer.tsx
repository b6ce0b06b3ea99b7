import type { Schemas } from '../api/client'

/** How it stands with a thermometer that speaks for itself, and what of it did not count. */
export function ThermometerSaid({ sensor: s }: { sensor: Schemas['SensorView'] }) {
  const odd = [
    s.garbled > 0 && `${s.garbled} lines nobody understood`,
    s.doubled > 0 && `${s.doubled} that came twice`,
    s.lost > 0 && `${s.lost} never came whole`,
    s.renumbered > 0 && `its numbers began anew ${s.renumbered} times`,
    s.ahead > 0 && `${s.ahead} dated ahead of the present`,
    s.old > 0 && `${s.old} from long before`,
    s.in_fahrenheit > 0 && `${s.in_fahrenheit} in degrees Fahrenheit, turned into Celsius`,
    s.battery != null && s.battery < 25 && `a battery at ${s.battery} %`,
  ].filter(Boolean)
  return (
    <p className="text-[0.95rem]">
      <span className={`font-semibold ${s.answers ? 'text-good' : 'text-stop'}`}>Thermometer: {s.said}</span>
      <span className="text-soft">{odd.length > 0 && `; ${odd.join(', ')}`}</span>
    </p>
  )
}
