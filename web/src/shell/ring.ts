import { useEffect } from 'react'

let sound: AudioContext | undefined

/** A browser lets a page sound only after somebody touched it. */
function readySound() {
  sound ??= new AudioContext()
  void sound.resume()
}

function beep() {
  if (sound?.state !== 'running') return
  const [tone, volume] = [sound.createOscillator(), sound.createGain()]
  tone.frequency.value = 880
  volume.gain.setValueAtTime(0.2, sound.currentTime)
  volume.gain.exponentialRampToValueAtTime(0.001, sound.currentTime + 0.4)
  tone.connect(volume).connect(sound.destination)
  tone.start()
  tone.stop(sound.currentTime + 0.4)
}

/** Makes itself heard and felt while something rings, and says so in the tab's title. */
export function useRinging(words: string | undefined) {
  useEffect(() => {
    window.addEventListener('pointerdown', readySound, { once: true })
    window.addEventListener('keydown', readySound, { once: true })
    return () => {
      window.removeEventListener('pointerdown', readySound)
      window.removeEventListener('keydown', readySound)
    }
  }, [])
  useEffect(() => {
    if (!words) return
    const title = document.title
    const ring = () => {
      beep()
      if (navigator.userActivation?.hasBeenActive) navigator.vibrate?.(200)
      document.title = `⏰ ${words}`
    }
    ring()
    const again = setInterval(ring, 2_000)
    return () => {
      clearInterval(again)
      document.title = title
    }
  }, [words])
}
