import { Camera } from 'lucide-react'
import { useState } from 'react'
import { problemOf } from '../api/client'
import { keepPhoto, photoAddress } from '../api/photos'

/** A photo that is taken now and shown by what is written down next. */
export function usePhoto() {
  const [name, setName] = useState<string>()
  const [state, setState] = useState<{ busy?: boolean; wrong?: string }>({})
  const take = async (file: File | undefined) => {
    if (!file) return
    setState({ busy: true })
    try {
      setName(await keepPhoto(file))
      setState({})
    } catch (error) {
      const isUnread = error instanceof Error && error.name !== 'Error'
      setState({ wrong: isUnread ? 'That is no picture this device can read.' : problemOf(error).message })
    }
  }
  return { name, busy: state.busy ?? false, wrong: state.wrong, take, clear: () => setName(undefined) }
}

export function PhotoPick({ photo }: { photo: ReturnType<typeof usePhoto> }) {
  return (
    <>
      <label className="press">
        <Camera size={19} aria-hidden /> {photo.name ? 'Another photo' : 'Photo'}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          onChange={(e) => void photo.take(e.target.files?.[0])}
        />
      </label>
      {photo.busy && <span role="status">Shrinking and sending it …</span>}
      {photo.name && <img src={photoAddress(photo.name)} alt="The photo to be kept" className="h-14 border border-line" />}
    </>
  )
}

/** Why a photo could not be taken. */
export function PhotoRefused({ photo }: { photo: ReturnType<typeof usePhoto> }) {
  if (!photo.wrong) return null
  return (
    <p role="alert" className="font-semibold text-stop">
      {photo.wrong}
    </p>
  )
}
