import words from '../../api/words.json'
import type { Schemas } from '../../api/client'

export type MouldColour = Schemas['MouldColour']
export type MouldTexture = Schemas['MouldTexture']

export const colourWords: Record<MouldColour, string> = words.MouldColour.label

export const textureWords: Record<MouldTexture, string> = words.MouldTexture.label

/** Colours of things, not of the page: the same by day and in a dim garage. */
const inks: Record<MouldColour, string[]> = {
  white: ['#f6f3ec', '#e9e4d8'],
  grey_green: ['#8fa08b', '#71836f'],
  black: ['#2c2826', '#55423a'],
  bright: ['#d9a21b', '#c65a2a'],
}
const CASING = '#a5523f'
const SPOTS = [
  [12, 13, 5],
  [30, 9, 3.6],
  [45, 16, 5.4],
  [22, 26, 6],
  [40, 30, 4],
  [54, 27, 3.4],
] as const

/** A drawn patch of casing with mould on it. */
export function Swatch({ colour, texture }: { colour: MouldColour; texture: MouldTexture }) {
  const [light, dark] = inks[colour]
  return (
    <svg viewBox="0 0 64 40" className="w-full max-w-24" aria-hidden>
      <rect width={64} height={40} rx={4} fill={CASING} />
      {texture === 'chalky' && <path d="M2 8 C16 0 40 4 62 3 L62 37 C44 40 20 34 2 38 Z" fill={light} opacity={0.9} />}
      {texture === 'chalky' && SPOTS.map(([x, y]) => <circle key={`${x}`} cx={x} cy={y} r={1.1} fill={dark} />)}
      {texture === 'dry' && SPOTS.map(([x, y, r], i) => <circle key={`${x}`} cx={x} cy={y} r={r} fill={i % 2 ? dark : light} />)}
      {texture === 'fuzzy' &&
        SPOTS.map(([x, y, r], i) => (
          <g key={`${x}`} stroke={i % 2 ? dark : light} strokeWidth={1.1}>
            {Array.from({ length: 12 }, (_, n) => {
              const turn = (n / 12) * Math.PI * 2
              return <line key={n} x1={x} y1={y} x2={x + Math.cos(turn) * (r + 3)} y2={y + Math.sin(turn) * (r + 3)} />
            })}
          </g>
        ))}
      {texture === 'wet' && (
        <>
          <path d="M4 6 C20 2 44 8 60 5 C62 18 58 30 61 36 C40 34 22 40 4 35 C7 24 2 16 4 6 Z" fill={light} opacity={0.75} />
          <path
            d="M12 12 C18 9 24 10 30 12 M36 24 C42 21 50 22 54 25"
            stroke="#ffffff"
            strokeWidth={2}
            fill="none"
            opacity={0.8}
          />
          <path d="M20 35 v4 M44 34 v5" stroke={dark} strokeWidth={2.4} strokeLinecap="round" />
        </>
      )}
    </svg>
  )
}
