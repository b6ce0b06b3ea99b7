import { Checkbox, ToggleGroup } from 'radix-ui'
import { Check } from 'lucide-react'
import { type ReactNode, useDeferredValue, useId, useState } from 'react'
import { problemOf } from '../api/client'
import { type Quantity, useUnderstood } from '../api/units'

interface LabelledProps {
  label: string
  hint?: ReactNode
  error?: string
}

/** A refusal of what was typed, until something else is typed. */
function useRefusal(error: string | undefined, value: string): string | undefined {
  const [refused, setRefused] = useState({ error, value })
  if (refused.error !== error) setRefused({ error, value })
  return refused.value === value ? error : undefined
}

/** A text field with its label, hint and error. */
export function TextField(
  props: LabelledProps & {
    value: string
    onChange: (v: string) => void
    big?: boolean
    inputMode?: 'text' | 'decimal' | 'numeric'
    id?: string
    placeholder?: string
  },
) {
  const { label, hint, value, onChange, big, inputMode, placeholder } = props
  const error = useRefusal(props.error, value)
  const own = useId()
  const id = props.id ?? own
  return (
    <div>
      <label htmlFor={id} className="mb-1 block font-semibold">
        {label}
      </label>
      <input
        id={id}
        className={`field ${big ? 'figures text-2xl font-semibold' : ''}`}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        aria-invalid={Boolean(error)}
        aria-describedby={`${id}-hint`}
        autoComplete="off"
        inputMode={inputMode}
        placeholder={placeholder}
      />
      <p id={`${id}-hint`} className={`mt-1 min-h-[1.4rem] text-[0.92rem] ${error ? 'font-semibold text-stop' : 'text-soft'}`}>
        {error ?? hint}
      </p>
    </div>
  )
}

/** An amount typed in any unit; under it what the server understood. */
export function AmountField(
  props: LabelledProps & {
    quantity: Quantity
    value: string
    onChange: (v: string) => void
    id?: string
    big?: boolean
  },
) {
  const text = useDeferredValue(props.value)
  const understood = useUnderstood(props.quantity, text)
  const refused = useRefusal(props.error, props.value)
  const read = text.trim() !== '' && understood.data ? `= ${understood.data.shown} · ${understood.data.also}` : undefined
  const unread = text.trim() !== '' && understood.isError ? problemOf(understood.error).field('text') : undefined
  return (
    <TextField
      {...props}
      inputMode="text"
      error={refused ?? unread}
      hint={read ? <span className="figures">{read}</span> : props.hint}
    />
  )
}

/** A date with a time of day, by the household's clock. */
export function MomentField(props: LabelledProps & { value: string; onChange: (v: string) => void }) {
  const id = useId()
  const refused = useRefusal(props.error, props.value)
  return (
    <div>
      <label htmlFor={id} className="mb-1 block font-semibold">
        {props.label}
      </label>
      <input
        id={id}
        type="datetime-local"
        className="field figures max-w-72"
        value={props.value}
        onChange={(e) => props.onChange(e.target.value)}
        aria-invalid={Boolean(refused)}
        aria-describedby={`${id}-hint`}
      />
      <p id={`${id}-hint`} className={`mt-1 text-[0.92rem] ${refused ? 'font-semibold text-stop' : 'text-soft'}`}>
        {refused ?? props.hint}
      </p>
    </div>
  )
}

interface WhenProps {
  value: string
  onChange: (v: string) => void
  error?: string
  /** Empty is the time that the entry has, not now. */
  kept?: boolean
}

/** When it happened, for what is written down later; empty means now. */
export function WhenField({ value, onChange, error, kept = false }: WhenProps) {
  return (
    <details open={error !== undefined || undefined}>
      <summary className="quiet">{value ? 'It happened earlier' : kept ? 'At another time?' : 'Not just now?'}</summary>
      <div className="mt-1">
        <MomentField
          label="When it happened"
          hint={kept ? 'Leave it empty to keep the time it has.' : 'Leave it empty for now.'}
          value={value}
          onChange={onChange}
          error={error}
        />
      </div>
    </details>
  )
}

/** A calendar day. */
export function DayField({
  label,
  hint,
  value,
  onChange,
  error,
}: LabelledProps & { value: string; onChange: (v: string) => void }) {
  const id = useId()
  const refused = useRefusal(error, value)
  return (
    <div>
      <label htmlFor={id} className="mb-1 block font-semibold">
        {label}
      </label>
      <input
        id={id}
        type="date"
        className="field figures"
        value={value}
        onChange={(e) => onChange(e.target.value)}
        aria-invalid={Boolean(refused)}
        aria-describedby={`${id}-hint`}
      />
      <p id={`${id}-hint`} className={`mt-1 min-h-[1.4rem] text-[0.92rem] ${refused ? 'font-semibold text-stop' : 'text-soft'}`}>
        {refused ?? hint}
      </p>
    </div>
  )
}

/** One of a few: big enough for a wet thumb. */
export function Choice<T extends string>(props: {
  label: string
  value: T | undefined
  options: { value: T; label: string }[]
  onChange: (value: T) => void
  error?: string
}) {
  const id = useId()
  return (
    <div>
      <p id={id} className="mb-1 font-semibold">
        {props.label}
      </p>
      <ToggleGroup.Root
        type="single"
        aria-labelledby={id}
        value={props.value ?? ''}
        onValueChange={(v) => v && props.onChange(v as T)}
        className="flex flex-wrap gap-1.5"
      >
        {props.options.map((o) => (
          <ToggleGroup.Item
            key={o.value}
            value={o.value}
            className="min-h-12 border-2 border-edge bg-table px-3.5 font-medium data-[state=on]:border-violet data-[state=on]:bg-violet data-[state=on]:text-on-violet"
          >
            {o.label}
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
      {props.error && <p className="mt-1 font-semibold text-stop">{props.error}</p>}
    </div>
  )
}

/** Yes or no. */
export function Tick({ label, checked, onChange }: { label: string; checked: boolean; onChange: (v: boolean) => void }) {
  const id = useId()
  return (
    <div className="flex min-h-12 items-center gap-2.5">
      <Checkbox.Root
        id={id}
        checked={checked}
        onCheckedChange={(v) => onChange(v === true)}
        className="inline-flex size-8 shrink-0 items-center justify-center border-2 border-edge bg-table data-[state=checked]:border-violet data-[state=checked]:bg-violet data-[state=checked]:text-on-violet"
      >
        <Checkbox.Indicator>
          <Check size={22} strokeWidth={3} aria-hidden />
        </Checkbox.Indicator>
      </Checkbox.Root>
      <label htmlFor={id} className="font-medium">
        {label}
      </label>
    </div>
  )
}

/** One of many. */
export function Select(props: LabelledProps & { value: string; onChange: (v: string) => void; children: ReactNode }) {
  const id = useId()
  return (
    <div>
      <label htmlFor={id} className="mb-1 block font-semibold">
        {props.label}
      </label>
      <select
        id={id}
        className="field"
        value={props.value}
        onChange={(e) => props.onChange(e.target.value)}
        aria-invalid={Boolean(props.error)}
        aria-describedby={`${id}-hint`}
      >
        {props.children}
      </select>
      <p
        id={`${id}-hint`}
        className={`mt-1 min-h-[1.4rem] text-[0.92rem] ${props.error ? 'font-semibold text-stop' : 'text-soft'}`}
      >
        {props.error ?? props.hint}
      </p>
    </div>
  )
}
