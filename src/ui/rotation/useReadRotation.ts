'use client'
import { useEffect, useMemo, useState } from 'react'
import type { Rotation } from '@/core/model'
import type { Draft } from '../edit/useDraft'

/** What the text under edit says, at once, also where a field of it is wrong: so that it can be mended where it stands.
 * A text that is no rotation in its outline leaves the last one that was, and is mended in the file: `legible` is false. */
export function useReadRotation({ dirty, source, problems, definition }: Pick<Draft, 'dirty' | 'source' | 'problems' | 'definition'>): { rotation: Rotation | undefined; legible: boolean } {
  const [read, setRead] = useState<(text: string) => Rotation | undefined>()
  useEffect(() => {
    if (!dirty) return // it carries the YAML library, which reading does not need
    void import('@/core/model/editing').then((module) => setRead(() => module.readRotation))
  }, [dirty])
  const said = definition?.kind === 'rotation' ? definition : undefined
  const here = useMemo(() => (dirty ? read?.(source) : undefined), [dirty, read, source])
  return { rotation: here ?? said, legible: here !== undefined || problems.length === 0 }
}
