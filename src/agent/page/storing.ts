/** Runs in the page: what pages of its origin keep. */
import type { Stored } from '@/core/model'

export const stored = (): Stored => ({ local: { ...localStorage }, session: { ...sessionStorage } })

export function store({ local, session }: Stored): void {
  for (const [name, value] of Object.entries(local)) localStorage.setItem(name, value)
  for (const [name, value] of Object.entries(session)) sessionStorage.setItem(name, value)
}
