import { Copy, Download } from 'lucide-react'
import { useState } from 'react'

/** Something as plain text: to copy, or to keep as a file. */
export function AsText({ text, file }: { text: string; file: string }) {
  const [copied, setCopied] = useState<'yes' | 'no'>()
  const copy = () => {
    // A page under a plain address may not write to the clipboard; then it is marked and copied by hand.
    if (!navigator.clipboard) return setCopied('no')
    navigator.clipboard.writeText(text).then(
      () => setCopied('yes'),
      () => setCopied('no'),
    )
  }
  const address = `data:text/plain;charset=utf-8,${encodeURIComponent(text)}`
  return (
    <details className="no-print">
      <summary className="quiet">As text</summary>
      <pre className="figures mt-1 border border-line bg-steel p-2 text-[0.95rem] whitespace-pre-wrap" tabIndex={0}>
        {text}
      </pre>
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="press" onClick={copy}>
          <Copy size={18} aria-hidden /> Copy
        </button>
        <a className="press" href={address} download={file}>
          <Download size={18} aria-hidden /> Save as a file
        </a>
      </div>
      <p role="status" className="mt-1 text-soft">
        {copied === 'yes' && 'Copied.'}
        {copied === 'no' && 'It could not be copied from here; mark it and copy it by hand.'}
      </p>
    </details>
  )
}
