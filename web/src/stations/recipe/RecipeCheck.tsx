import { useSearch } from '@tanstack/react-router'
import { FileText } from 'lucide-react'
import { useEffect, useId, useRef, useState, useSyncExternalStore } from 'react'
import { useCatalogue } from '../../api/catalogue'
import { problemOf, type Schemas } from '../../api/client'
import { useStation } from '../../api/pieces'
import { type RecipeAnswer, type Settled, useRecipe } from '../../api/recipe'
import { useSettings } from '../../api/settings'
import { useUnderstood } from '../../api/units'
import { useDraft } from '../../kit/drafts'
import { AmountField, Select, Tick } from '../../kit/Fields'
import { Page } from '../../kit/Page'
import { Empty, Failed, Loading } from '../../kit/States'
import { useFormat } from '../../units'
import { type Brought, nothing, recipeAsk, settle, useStill } from './draft'
import { InGrams } from './InGrams'
import { Beyond, Outcome } from './Outcome'
import { ReadLines } from './ReadLines'

/** More than this no recipe is (bytes). */
const LONGEST = 64 * 1024

const EXAMPLE = `Smoked back, the neighbour's way
3 lb pork loin
3/4 tsp curing salt
2 Tbsp kosher salt
1/4 cup brown sugar
Rub it all over, 6 days in the fridge`

/** Somebody's recipe: what it says, what it comes to, what is wrong with it, and the same in grams. */
export function RecipeCheck() {
  const { piece } = useSearch({ from: '/recipe' })
  const draft = useDraft<Brought>('recipe', nothing, () => 'a recipe that was being checked')
  const brought = draft.value
  const set = (change: Partial<Brought>) => draft.set((b) => ({ ...b, ...change }))
  // The address asks for a piece.
  const asked = useRef<number>(undefined)
  useEffect(() => {
    if (piece === undefined || asked.current === piece) return
    asked.current = piece
    draft.set((b) => ({ ...b, pieces: [piece] }))
  }, [piece, draft])
  return (
    <Page
      title="Recipe check"
      lead="Type or paste anybody's recipe. Every line is read, what it really comes to is worked out, and it is turned into grams for your piece."
    >
      <Check brought={brought} onType={set} onClear={draft.clear} />
    </Page>
  )
}

interface Props {
  brought: Brought
  onType: (change: Partial<Brought>) => void
  onClear: () => void
}

function Check({ brought, onType, onClear }: Props) {
  const station = useStation('cure')
  const settings = useSettings().data
  const builds = useCatalogue().data?.builds
  const waiting = station.data?.pieces.filter((p) => p.stage === 'dose') ?? []
  const pieces = waiting.filter((p) => brought.pieces.includes(p.id))
  const piece = pieces[0]
  const thicknesses = pieces.flatMap((p) => p.thickness_mm ?? [])
  const build = piece && builds?.find((b) => b.key === piece.build)
  const weight = useUnderstood('mass', piece ? '' : brought.weight)
  const thick = useUnderstood('length', piece ? '' : brought.thickness)
  const ask = recipeAsk(brought, {
    meat: piece ? pieces.reduce((sum, p) => sum + p.mass_g, 0) : brought.weight.trim() === '' ? undefined : weight.data?.value,
    thickness: piece
      ? thicknesses.length > 0
        ? Math.max(...thicknesses)
        : undefined
      : brought.thickness.trim() === ''
        ? undefined
        : thick.data?.value,
    class: build?.class,
    ruleSet: settings?.household.rule_set,
    measures: settings?.household.units.measures,
  })
  const still = useStill(JSON.stringify(ask))
  const recipe = useRecipe(JSON.parse(still) as Schemas['RecipeCheckAsk'])
  const wide = useWide()
  const isEmpty = brought.text.trim() === ''
  const answer = isEmpty ? undefined : recipe.data
  const stale = recipe.isPlaceholderData || recipe.isError || still !== JSON.stringify(ask)
  const onSettle = (one: Settled) => {
    if (one.code === 'measures_assumed') onType({ measures: one.value as Brought['measures'] })
    else if (one.code === 'meat_weight_missing') onType({ weight: one.value, pieces: [] })
    else onType({ settled: settle(brought.settled, one) })
  }
  const beyond = (answer: RecipeAnswer) => (
    <>
      <Beyond answer={answer} onSettle={onSettle} />
      {brought.measures && (
        <p className="flex flex-wrap items-center gap-x-3">
          Spoons, cups and gallons are {brought.measures === 'us' ? 'of the US' : brought.measures}, as chosen.
          <button type="button" className="quiet" onClick={() => onType({ measures: '' })}>
            The household’s again
          </button>
        </p>
      )}
      <ForWhat brought={brought} onType={onType} waiting={waiting} pieces={pieces} />
      <InGrams answer={answer} pieces={pieces} stale={stale} />
    </>
  )
  return (
    <div className="grid gap-x-7 gap-y-5 lg:grid-cols-[minmax(0,6fr)_minmax(0,5fr)] lg:grid-rows-[auto_1fr]">
      <div className="grid content-start gap-4 lg:col-start-1">
        <Text brought={brought} onType={onType} onClear={onClear} />
        {recipe.isError && !isEmpty && <Failed error={recipe.error} onRetry={() => recipe.refetch()} />}
        {isEmpty && (
          <Empty title="No recipe yet">
            <p>
              Per batch, per pound, in percent, by the cup: as it stands in the book. What cannot be read is said, and nothing of
              it is kept anywhere but on this device.
            </p>
            <button type="button" className="press mt-3" onClick={() => onType({ text: EXAMPLE })}>
              Show me one
            </button>
          </Empty>
        )}
        {!isEmpty && recipe.isPending && <Loading what="what it says" />}
      </div>
      {answer && (
        <>
          <div className={`lg:col-start-2 lg:row-span-2 lg:row-start-1 ${stale ? 'opacity-60' : ''}`}>
            <div className="grid content-start gap-5">
              <Outcome answer={answer} />
              {wide && beyond(answer)}
            </div>
          </div>
          <section aria-label="As it was read" className={`lg:col-start-1 ${stale ? 'opacity-60' : ''}`}>
            <h2 className="mb-1.5">As it was read</h2>
            <HowMany answer={answer} />
            <ReadLines answer={answer} onSettle={onSettle} />
          </section>
          {!wide && <div className="grid content-start gap-5">{beyond(answer)}</div>}
        </>
      )}
    </div>
  )
}

const WIDE = '(min-width: 64rem)'

/** Two columns have room: what follows from the recipe stands beside it, not under it. */
function useWide() {
  return useSyncExternalStore(
    (changed) => {
      const media = window.matchMedia(WIDE)
      media.addEventListener('change', changed)
      return () => media.removeEventListener('change', changed)
    },
    () => window.matchMedia(WIDE).matches,
  )
}

/** How much of it was understood, in one line. */
function HowMany({ answer }: { answer: RecipeAnswer }) {
  const of = (u: Schemas['Understood']) => answer.lines.filter((l) => l.understood === u).length
  const [yes, assumed, no] = [of('yes'), of('assumed'), of('no')]
  const parts = [`${yes} understood`, assumed > 0 && `${assumed} with an assumption`, no > 0 && `${no} not understood`]
  return (
    <p role="status" className="mb-1.5 text-soft">
      {parts.filter(Boolean).join(', ')}
    </p>
  )
}

/** The text itself: typed, pasted, or out of a file. */
function Text({ brought, onType, onClear }: Props) {
  const id = useId()
  const file = useRef<HTMLInputElement>(null)
  const [wrong, setWrong] = useState<string>()
  const lines = brought.text.split('\n').length
  const open = async (chosen: File | undefined) => {
    if (!chosen) return
    if (chosen.size > LONGEST) return setWrong(`${chosen.name} is larger than 64 kB: that is no recipe. Take a text file.`)
    const text = await chosen.text()
    if (text.includes('\u0000')) return setWrong(`${chosen.name} is no text. Save the recipe as plain text, and open that.`)
    setWrong(undefined)
    onType({ text })
  }
  return (
    <div className="no-print">
      <label htmlFor={id} className="mb-1 block font-semibold">
        The recipe, as it stands
      </label>
      <textarea
        id={id}
        className="field py-2 leading-snug"
        rows={Math.min(Math.max(lines + 1, 7), 16)}
        value={brought.text}
        onChange={(e) => {
          setWrong(undefined)
          onType({ text: e.target.value })
        }}
        aria-invalid={Boolean(wrong)}
        aria-describedby={`${id}-wrong`}
        spellCheck={false}
      />
      <p id={`${id}-wrong`} className="font-semibold text-stop empty:hidden">
        {wrong}
      </p>
      <div className="mt-1 flex flex-wrap gap-2">
        <button type="button" className="quiet" onClick={() => file.current?.click()}>
          <FileText size={18} aria-hidden /> Open a text file
        </button>
        <input
          ref={file}
          type="file"
          accept="text/plain,.txt,.text,.md"
          className="sr-only"
          tabIndex={-1}
          aria-label="A text file"
          onChange={(e) => {
            void open(e.target.files?.[0])
            e.target.value = ''
          }}
        />
        {brought.text !== '' && (
          <button type="button" className="quiet" onClick={onClear}>
            Take it away
          </button>
        )}
      </div>
    </div>
  )
}

interface ForProps {
  brought: Brought
  onType: (change: Partial<Brought>) => void
  waiting: Schemas['PieceCard'][]
  pieces: Schemas['PieceCard'][]
}

/** What it is to be made for: pieces of one product that wait for their dose, or a weight. */
function ForWhat({ brought, onType, waiting, pieces }: ForProps) {
  const format = useFormat()
  const [piece] = pieces
  const others = waiting.filter((p) => p.build === piece?.build && p.id !== piece?.id)
  const weight = useUnderstood('mass', brought.weight)
  const thick = useUnderstood('length', brought.thickness)
  const wrong = (typed: string, read: typeof weight) =>
    typed.trim() !== '' && read.isError ? problemOf(read.error).field('text') : undefined
  return (
    <section aria-label="What it is for" className="no-print grid gap-2">
      <Select
        label="For which piece"
        value={piece ? String(piece.id) : ''}
        onChange={(p) => onType({ pieces: p === '' ? [] : [Number(p)] })}
      >
        <option value="">{waiting.length > 0 ? 'none of these: by weight' : 'no piece waits for its dose: by weight'}</option>
        {waiting.map((p) => (
          <option key={p.id} value={p.id}>
            {p.tag}, {format.mass(p.mass_g)} of {p.cut_name}, {p.build_name}
          </option>
        ))}
      </Select>
      {others.map((p) => (
        <Tick
          key={p.id}
          label={`and ${p.tag}, ${format.mass(p.mass_g)} of ${p.cut_name}`}
          checked={pieces.includes(p)}
          onChange={(on) => onType({ pieces: on ? [...brought.pieces, p.id] : brought.pieces.filter((id) => id !== p.id) })}
        />
      ))}
      {!piece && (
        <div className="grid gap-x-4 sm:grid-cols-2">
          <AmountField
            label="The meat weighs"
            quantity="mass"
            value={brought.weight}
            onChange={(w) => onType({ weight: w })}
            error={wrong(brought.weight, weight)}
            hint="Yours, not the recipe's."
          />
          <AmountField
            label="It is this thick"
            quantity="length"
            value={brought.thickness}
            onChange={(t) => onType({ thickness: t })}
            error={wrong(brought.thickness, thick)}
            hint="For our days beside the recipe's."
          />
        </div>
      )}
    </section>
  )
}
