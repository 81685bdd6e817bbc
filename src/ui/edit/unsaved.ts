/** Unsaved texts, kept in this browser until they are saved or discarded: a reload loses none. */
import type { DefinitionKind } from '@/core/model'

/** A text, and the number of the version it was made from. */
type Unsaved = { source: string; base: number }

const nameOf = (kind: DefinitionKind, key: string) => `oak-draft-${kind}-${key}`

export function keepUnsaved(kind: DefinitionKind, key: string, unsaved: Unsaved): void {
  localStorage.setItem(nameOf(kind, key), JSON.stringify(unsaved))
}

export function dropUnsaved(kind: DefinitionKind, key: string): void {
  localStorage.removeItem(nameOf(kind, key))
}

/** @returns nothing where nothing is kept, or what is kept cannot be read */
export function readUnsaved(kind: DefinitionKind, key: string): Unsaved | undefined {
  try {
    const stored: unknown = JSON.parse(localStorage.getItem(nameOf(kind, key)) ?? 'null')
    return isUnsaved(stored) ? { source: stored.source, base: stored.base } : undefined
  } catch {
    return undefined
  }
}

function isUnsaved(stored: unknown): stored is Unsaved {
  if (typeof stored !== 'object' || stored === null) return false
  return (
    'source' in stored &&
    typeof stored.source === 'string' &&
    'base' in stored &&
    typeof stored.base === 'number'
  )
}
