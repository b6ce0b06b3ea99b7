import { Bell, BellOff } from 'lucide-react'
import { useState } from 'react'
import { notices, setNotices, useNotices } from '../../shell/notices'

/** Whether this device says when something rings, and how. */
export function Rings() {
  const on = useNotices()
  const [said, setSaid] = useState<string>()
  const begin = async () => {
    setSaid(undefined)
    const answer = await notices()
    if (answer === 'granted') setNotices(true)
    else setSaid(answer)
  }
  return (
    <section aria-label="What rings" className="text-[0.95rem] text-soft">
      {on ? (
        <button type="button" className="quiet" onClick={() => setNotices(false)}>
          <BellOff size={18} aria-hidden /> Say nothing outside of this page
        </button>
      ) : (
        <button type="button" className="quiet" onClick={() => void begin()}>
          <Bell size={18} aria-hidden /> Tell this device when something rings
        </button>
      )}
      {said && (
        <p role="status" className="px-2">
          {said}
        </p>
      )}
    </section>
  )
}
