import type { GuidedPicture, GuidedVideo } from '@/core/guided'
import type { GuidedSheetViewModel } from '@/core/view-models'
import { api, ApiProblem } from '../api'

const BYTES_MOST = 12_000_000
const PART_BYTES = 32_768

/** Sends a picture to be kept. @throws {ApiProblem} with why it is not */
export async function keepPicture(caseRunId: string, picture: Blob): Promise<GuidedPicture> {
  if (picture.size > BYTES_MOST)
    throw new ApiProblem(413, 'BODY_TOO_LARGE', 'This picture has more than 12 MB: make it smaller first.')
  return keepBytes(caseRunId, base64(new Uint8Array(await picture.arrayBuffer())))
}

/** @param bytes of a picture in base64 @throws {ApiProblem} */
export const keepBytes = (caseRunId: string, bytes: string): Promise<GuidedPicture> =>
  api(`/api/guided/${caseRunId}/pictures`, { method: 'POST', body: { bytes } })

/** What a piece of evidence may have at the most, with some room. */
export const VIDEO_BYTES_MOST = 60_000_000

/** Sends a video (WebM) to be kept. @returns its hash @throws {ApiProblem} with why it is not */
export async function keepVideo(caseRunId: string, video: Blob): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', await video.arrayBuffer())
  const hash = [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('')
  await api(`/api/guided/${caseRunId}/videos/${hash}`, { method: 'PUT', body: video })
  return hash
}

/** Puts a video on a sheet that nobody looks at here. @throws {ApiProblem} */
export async function putVideo(caseRunId: string, video: GuidedVideo): Promise<void> {
  const path = `/api/guided/${caseRunId}`
  const { version, verdicts, workedMs, facts } = await api<GuidedSheetViewModel>(path)
  await api(path, { method: 'PUT', body: { version, verdicts, workedMs, facts, video } })
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
