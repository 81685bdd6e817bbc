/** Files of the browser that is steered, which come part by part. */
import type { LiveWord } from '@/core/live'

type Part = Extract<LiveWord, { say: 'file' }>

export class IncomingFiles {
  private coming: { name: string; parts: Uint8Array<ArrayBuffer>[] } | undefined

  /** @param save called with each that is whole */
  constructor(private readonly save: (name: string, parts: Uint8Array<ArrayBuffer>[]) => void) {}

  /** One that does not go on where it was is begun anew, or left. */
  take({ name, part, of, data }: Part): void {
    if (part === 1) this.coming = { name, parts: [] }
    const { coming } = this
    if (coming?.name !== name || coming.parts.length !== part - 1) return
    coming.parts.push(Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0)))
    if (part < of) return
    this.coming = undefined
    this.save(name, coming.parts)
  }
}

/** As a download of this page: never opened in it, whatever it is. */
export function saveFile(name: string, parts: Uint8Array<ArrayBuffer>[]): void {
  const url = URL.createObjectURL(new Blob(parts, { type: 'application/octet-stream' }))
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  URL.revokeObjectURL(url)
}
