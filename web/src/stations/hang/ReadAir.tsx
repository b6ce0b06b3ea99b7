import { useState } from 'react'
import { problemOf } from '../../api/client'
import { useReadPlace } from '../../api/places'
import { AmountField, TextField } from '../../kit/Fields'
import { Refused } from '../../kit/States'

/** What the thermometer of a place shows now. */
export function ReadAir({ place }: { place: number }) {
  const [temperature, setTemperature] = useState('')
  const [humidity, setHumidity] = useState('')
  const read = useReadPlace(place)
  const wrong = (field: string) => (read.isError ? problemOf(read.error).field(field) : undefined)
  const write = (keep_as_typed: boolean) =>
    read.mutate(
      { readings: [{ temperature, humidity: humidity.trim() || null }], keep_as_typed },
      {
        onSuccess: () => {
          setTemperature('')
          setHumidity('')
        },
      },
    )
  return (
    <form
      aria-label="Read the air"
      className="grid gap-x-4 sm:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault()
        write(false)
      }}
    >
      <AmountField
        quantity="temperature"
        label="How warm"
        value={temperature}
        onChange={setTemperature}
        error={wrong('readings[0].temperature')}
      />
      <TextField
        label="How damp"
        value={humidity}
        onChange={setHumidity}
        error={wrong('readings[0].humidity')}
        hint="Such as 75 %."
      />
      {read.isError && <Refused error={read.error} onKeep={() => write(true)} />}
      <button type="submit" className="press justify-self-start" disabled={temperature.trim() === '' || read.isPending}>
        Write it down
      </button>
    </form>
  )
}
