import { isThere, NotYet } from '../../kit/Fetched'
import { Download, RotateCcw, Save, Upload } from 'lucide-react'
import { useRef, useState } from 'react'
import { type Backup, useBackups, useBringBackup, useRestore, useRestorePreview, useTakeBackup } from '../../api/backups'
import { Failed, Loading, Refused } from '../../kit/States'
import { useFormat } from '../../units'

const whyWords: Record<string, string> = {
  daily: 'by itself',
  by_hand: 'by hand',
  before_migration: 'before an update',
  before_restore: 'before a restore',
  brought: 'brought from elsewhere',
}

const size = (bytes: number) => (bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`)

/** Copies of the ledger: made by themselves and by hand, carried away, brought back, restored. */
export function Backups() {
  const backups = useBackups()
  const take = useTakeBackup()
  const bring = useBringBackup()
  const format = useFormat()
  const chooser = useRef<HTMLInputElement>(null)
  const [asked, setAsked] = useState<string>()
  if (!isThere(backups)) return <NotYet of={[backups]} what="the backups" />
  const list = backups.data.backups
  const last = list.find((b) => b.why === 'daily' || b.why === 'by_hand')
  return (
    <section aria-label="Backups" className="table-top grid max-w-3xl gap-3 p-4" id="backups">
      <h2>Backups</h2>
      <p>
        {last ? (
          <>
            The last one was taken <span className="figures">{format.moment(last.at)}</span>.
          </>
        ) : (
          <strong className="text-caution">There is none yet.</strong>
        )}{' '}
        One a day is taken by itself and kept for 7 days, 4 weeks and 12 months, in {backups.data.folder}. A disk can die with all
        of them: carry one away now and then.
      </p>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="press press-main" disabled={take.isPending} onClick={() => take.mutate()}>
          <Save size={18} aria-hidden /> Take one now
        </button>
        <button type="button" className="press" onClick={() => chooser.current?.click()}>
          <Upload size={18} aria-hidden /> Bring a file back
        </button>
        <input
          ref={chooser}
          type="file"
          hidden
          accept=".db"
          onChange={(e) => {
            const file = e.target.files?.[0]
            if (file) bring.mutate(file, { onSuccess: (b) => setAsked(b.name) })
            e.target.value = ''
          }}
        />
      </div>
      {bring.isPending && <Loading what="the file" />}
      <Refused error={take.error ?? bring.error} />
      {list.length > 0 && (
        <ul className="divide-y divide-line border-y border-line">
          {list.map((b) => (
            <li key={b.name} className="grid gap-2 py-2">
              <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
                <span className="figures grow font-semibold">{format.moment(b.at)}</span>
                <span className="text-soft">
                  {whyWords[b.why] ?? b.why}, <span className="figures">{size(b.bytes)}</span>
                </span>
                <a className="quiet" href={`/api/v1/backups/${b.name}`} download>
                  <Download size={18} aria-hidden /> Download
                </a>
                <button type="button" className="quiet" onClick={() => setAsked(asked === b.name ? undefined : b.name)}>
                  <RotateCcw size={18} aria-hidden /> Restore
                </button>
              </div>
              {asked === b.name && <RestoreThis backup={b} onDone={() => setAsked(undefined)} />}
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** What restoring would lose is said before it is done; what is there is backed up first. */
function RestoreThis({ backup, onDone }: { backup: Backup; onDone: () => void }) {
  const preview = useRestorePreview(backup.name)
  const restore = useRestore()
  const format = useFormat()
  if (restore.isSuccess)
    return (
      <p role="status" className="border-l-8 border-good bg-good-wash p-3">
        Restored: <span className="figures">{restore.data.entries}</span> entries.
        {restore.data.before && ` What was there before is kept as ${restore.data.before}.`}{' '}
        <button type="button" className="quiet" onClick={onDone}>
          Seen
        </button>
      </p>
    )
  if (preview.isPending) return <Loading what="what it holds" />
  if (preview.isError) return <Failed error={preview.error} onRetry={() => preview.refetch()} />
  const { entries, newest, lost, lost_words, other_household, unreadable } = preview.data
  return (
    <div className="grid gap-2 border-l-8 border-caution bg-caution-wash p-3">
      {other_household && <p className="font-semibold">It is the backup of another household.</p>}
      {unreadable && (
        <p className="font-semibold">
          What is here now cannot be read whole, so nobody can say all that would be lost. It is kept.
        </p>
      )}
      <p>
        It holds <span className="figures">{entries}</span> entries{newest && <>, the newest written {format.moment(newest)}</>}.{' '}
        {lost === 0 ? (
          'Nothing that stands in the ledger now would be lost.'
        ) : (
          <strong>
            {lost} {lost === 1 ? 'entry' : 'entries'} of today’s ledger would be gone:
          </strong>
        )}
      </p>
      {lost_words.length > 0 && (
        <ul className="list-disc pl-5">
          {lost_words.map((words, i) => (
            <li key={i}>{words}</li>
          ))}
          {lost > lost_words.length && <li>and {lost - lost_words.length} more before these</li>}
        </ul>
      )}
      <p>What is there now is kept as a backup first.</p>
      <Refused error={restore.error} />
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="press press-main"
          disabled={restore.isPending}
          onClick={() => restore.mutate(backup.name)}
        >
          Put it in the ledger’s place
        </button>
        <button type="button" className="press" onClick={onDone}>
          Leave it
        </button>
      </div>
    </div>
  )
}
