'use client'
import { useEffect, useMemo, useState } from 'react'
import type { Definition } from '@/core/model'
import type { Draft } from './useDraft'

type Kind = 'rotation' | 'policy'
type OfKind<K extends Kind> = Extract<Definition, { kind: K }>

/** What the text under edit says, at once, also where a field of it is wrong: so that it can be mended where
 * it stands.
 * A text that is none of its kind in its outline leaves the last one that was, and is mended in the file:
 * `legible` is false. */
export function useReading<K extends Kind>(
  kind: K,
  { dirty, source, problems, definition }: Pick<Draft, 'dirty' | 'source' | 'problems' | 'definition'>,
): { read: OfKind<K> | undefined; legible: boolean } {
  const [reader, setReader] = useState<(text: string) => Definition | undefined>()
  useEffect(() => {
    if (!dirty) return // it carries the YAML library, which reading does not need
    void import('@/core/model/editing').then((module) =>
      setReader(() => (kind === 'rotation' ? module.readRotation : module.readPolicy)),
    )
  }, [dirty, kind])
  const said = definition?.kind === kind ? (definition as OfKind<K>) : undefined
  const here = useMemo(
    () => (dirty ? (reader?.(source) as OfKind<K> | undefined) : undefined),
    [dirty, reader, source],
  )
  return { read: here ?? said, legible: here !== undefined || problems.length === 0 }
}
