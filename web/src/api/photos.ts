import { type Schemas, unwrap } from './client'

/** The longest side of a kept photo (px): enough to see mould and colour. */
const LONGEST = 1_600
const QUALITY = 0.82

/** A photo shrunk on this device: what goes over a bad line is small, and holds no place where it was taken. */
async function shrunk(file: File): Promise<Blob> {
  const picture = await createImageBitmap(file)
  const by = Math.min(1, LONGEST / Math.max(picture.width, picture.height))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(picture.width * by)
  canvas.height = Math.round(picture.height * by)
  canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
  picture.close()
  return new Promise((done, failed) => {
    canvas.toBlob((blob) => (blob ? done(blob) : failed(new Error('not drawn'))), 'image/jpeg', QUALITY)
  })
}

/** Keeps a photo; gives the name that a note shows it by. */
export async function keepPhoto(file: File): Promise<string> {
  const body = await shrunk(file)
  const response = await fetch('/api/v1/photos', { method: 'POST', body, headers: { 'content-type': 'image/jpeg' } })
  const answer: unknown = await response.json().catch(() => undefined)
  const kept = unwrap<Schemas['PhotoKept']>(
    response.ok ? { data: answer as Schemas['PhotoKept'], response } : { error: answer, response },
  )
  return kept.photo
}

export const photoAddress = (name: string) => `/api/v1/photos/${name}`
