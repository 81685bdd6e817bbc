import type { GuidedPicture } from '@/core/guided'
import { api, ApiProblem } from '../api'

const BYTES_MOST = 12_000_000
const PART_BYTES = 32_768

/** Sends a picture to be kept. @throws {ApiProblem} with why it is not */
export async function keepPicture(caseRunId: string, picture: Blob): Promise<GuidedPicture> {
  if (picture.size > BYTES_MOST)
    throw new ApiProblem(413, 'BODY_TOO_LARGE', 'This picture has more than 12 MB: make it smaller first.')
  const bytes = base64(new Uint8Array(await picture.arrayBuffer()))
  return api(`/api/guided/${caseRunId}/pictures`, { method: 'POST', body: { bytes } })
}

/** In parts: a call takes only so many arguments. */
function base64(bytes: Uint8Array): string {
  let text = ''
  for (let at = 0; at < bytes.length; at += PART_BYTES)
    text += String.fromCharCode(...bytes.subarray(at, at + PART_BYTES))
  return btoa(text)
}

/** Pictures among what was pasted or dropped. */
export const picturesIn = (given: DataTransfer | null): File[] =>
  [...(given?.files ?? [])].filter(({ type }) => type.startsWith('image/'))

/** What a shared window shows at this moment, as PNG. */
export async function frameOf(stream: MediaStream): Promise<Blob> {
  const video = document.createElement('video')
  video.srcObject = stream
  video.muted = true
  await video.play()
  const canvas = document.createElement('canvas')
  canvas.width = video.videoWidth
  canvas.height = video.videoHeight
  canvas.getContext('2d')!.drawImage(video, 0, 0)
  video.srcObject = null
  return new Promise((resolve, reject) =>
    canvas.toBlob(
      (blob) => (blob ? resolve(blob) : reject(new Error('The window shows nothing.'))),
      'image/png',
    ),
  )
}
