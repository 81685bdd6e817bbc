'use client'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { DefinitionKind, Edit } from '@/core/model'
import type * as Editing from '@/core/model/editing'
import type { BenchViewModel, DraftViewModel } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'

/** What somebody else saved while this text was edited. */
export type EditConflict = { version: number; who: string; at: string; changes: string[]; source: string }
type Steps = { texts: string[]; at: number }

/** A page that never rests gets the library after this all the same. */
const IDLE_MOST_MS = 1000
/** Undo goes back this far. */
const UNDO_MOST = 300
const nameOf = (kind: DefinitionKind, key: string) => `oak-draft-${kind}-${key}`

export type Draft = ReturnType<typeof useDraft>

/** One definition under edit: the text is the truth, and every change of it can be undone. Unsaved text
 * survives a reload.
 * Saving says which version the text was made from; when somebody was quicker, both texts are kept and
 * `conflict` holds the other. */
export function useDraft(kind: DefinitionKind, key: string, initial?: BenchViewModel) {
  const path = `/api/definitions/${kind}/${key}`
  const client = useQueryClient()
  const { data: viewModel, error } = useViewModel<BenchViewModel>(path, ['definitions'], initial)
  const [steps, setSteps] = useState<Steps>()
  const [base, setBase] = useState<number>()
  const [conflict, setConflict] = useState<EditConflict>()
  const [saving, setSaving] = useState(false)
  const restored = useRef(false)
  // The library that edits YAML comes when the page is drawn and at rest: reading needs none of it.
  const editing = useRef<typeof Editing>(undefined)
  const coming = useRef<Promise<unknown>>(undefined)
  const fetchEditing = useCallback(
    () => (coming.current ??= import('@/core/model/editing').then((module) => (editing.current = module))),
    [],
  )
  useEffect(() => {
    const waiting = requestIdleCallback(() => void fetchEditing(), { timeout: IDLE_MOST_MS })
    return () => cancelIdleCallback(waiting)
  }, [fetchEditing])

  const kept = viewModel?.source ?? ''
  // The first text of the steps is what was kept when editing began: back there, nothing is edited, and what
  // others save is shown.
  const edited = steps !== undefined && steps.texts[steps.at] !== steps.texts[0]
  const source = edited ? steps.texts[steps.at]! : kept
  const dirty = edited && source !== kept
  const baseVersion = base ?? viewModel?.version ?? 0
  // While nothing is edited here, what others save is simply shown.
  const behind = dirty && viewModel !== undefined && viewModel.version > baseVersion

  useEffect(() => {
    if (!viewModel || restored.current) return
    restored.current = true
    const stored = readStored(kind, key)
    if (!stored || stored.source === viewModel.source) return
    // Once, from the browser’s store, which the server’s drawing cannot see.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setSteps({ texts: [viewModel.source, stored.source], at: 1 })
    setBase(stored.base)
    toast(`Your unsaved text of ${key} is here again`)
  }, [viewModel, kind, key])
  useEffect(() => {
    if (dirty) localStorage.setItem(nameOf(kind, key), JSON.stringify({ source, base: baseVersion }))
    else if (restored.current) localStorage.removeItem(nameOf(kind, key))
  }, [dirty, source, baseVersion, kind, key])
  useEffect(() => {
    if (!dirty) return
    const warn = (event: BeforeUnloadEvent) => event.preventDefault()
    window.addEventListener('beforeunload', warn)
    return () => window.removeEventListener('beforeunload', warn)
  }, [dirty])

  const { data: checked } = useQuery<DraftViewModel, ApiProblem>({
    queryKey: ['draft', kind, key, source],
    enabled: dirty,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
    queryFn: () => api<DraftViewModel>(`${path}/check`, { method: 'POST', body: { source } }),
  })
  const draft = dirty ? (checked ?? viewModel?.draft) : viewModel?.draft
  const [lastGood, setLastGood] = useState(draft?.definition)
  if (draft?.definition && draft.definition !== lastGood) setLastGood(draft.definition)

  const change = useCallback(
    (next: (text: string) => string) => {
      setSteps((now) => {
        const texts = now && (dirty || now.texts[0] === kept) ? now : { texts: [kept], at: 0 }
        const text = next(texts.texts[texts.at]!)
        if (text === texts.texts[texts.at]) return now
        const past = [...texts.texts.slice(0, texts.at + 1), text].slice(-UNDO_MOST)
        return { texts: past, at: past.length - 1 }
      })
      setBase((now) => (dirty ? (now ?? viewModel?.version) : viewModel?.version))
    },
    [kept, dirty, viewModel?.version],
  )

  const newest = useRef<(...edits: Edit[]) => boolean>(undefined)
  /** @returns whether the edits fitted the text */
  const edit = useCallback(
    (...edits: Edit[]): boolean => {
      if (!editing.current) {
        // who is quicker than the library loses nothing
        void fetchEditing().then(() => newest.current?.(...edits))
        return true
      }
      const { editSource, EditFault } = editing.current
      let edited: string
      try {
        edited = editSource(source, edits)
      } catch (fault) {
        if (!(fault instanceof EditFault)) throw fault
        toast.error(`That does not go: ${fault.message}`)
        return false
      }
      change((text) => (text === source ? edited : editSource(text, edits)))
      return true
    },
    [source, change, fetchEditing],
  )
  useEffect(() => {
    newest.current = edit
  })

  const go = (by: number) =>
    setSteps((now) => (now ? { ...now, at: Math.max(0, Math.min(now.texts.length - 1, now.at + by)) } : now))
  const discard = useCallback(() => {
    setSteps(undefined)
    setBase(undefined)
    setConflict(undefined)
    localStorage.removeItem(nameOf(kind, key))
  }, [kind, key])

  /** @param from which version the text is meant to follow; by default the one it was made from */
  const save = async (from = baseVersion): Promise<boolean> => {
    setSaving(true)
    try {
      const saved = await api<{ version: number; changes: string[] }>(path, {
        method: 'PUT',
        body: { source, basedOn: from },
      })
      await client.invalidateQueries({ queryKey: [path] })
      discard()
      toast(`Saved as version ${saved.version}`)
      return true
    } catch (problem) {
      const { code, detail, message } = problem as ApiProblem
      if (code === 'CHANGED_MEANWHILE' && (detail as EditConflict).version > 0)
        setConflict(detail as EditConflict)
      else toast.error(message)
      return false
    } finally {
      setSaving(false)
    }
  }

  return {
    kind,
    key,
    viewModel,
    error,
    source,
    dirty,
    behind,
    saving,
    conflict,
    /** What the text says now; the last sound reading while it says nothing sound. */
    definition: draft?.definition ?? lastGood ?? viewModel?.draft.definition,
    problems: draft?.problems ?? [],
    warnings: draft?.warnings ?? [],
    edit,
    write: (text: string) => change(() => text),
    undo: () => go(-1),
    redo: () => go(1),
    canUndo: (steps?.at ?? 0) > 0,
    canRedo: steps !== undefined && steps.at < steps.texts.length - 1,
    save,
    discard,
    showOther: (other: EditConflict | undefined) => setConflict(other),
    /** Takes the other's text; mine stays one undo away. */
    takeOther: (other: EditConflict) => {
      change(() => other.source)
      setBase(other.version)
      setConflict(undefined)
    },
    rebase: (version: number) => {
      setBase(version)
      setConflict(undefined)
    },
  }
}

function readStored(kind: DefinitionKind, key: string): { source: string; base: number } | undefined {
  try {
    const stored = JSON.parse(localStorage.getItem(nameOf(kind, key)) ?? 'null') as {
      source?: unknown
      base?: unknown
    } | null
    return typeof stored?.source === 'string' && typeof stored.base === 'number'
      ? { source: stored.source, base: stored.base }
      : undefined
  } catch {
    return undefined
  }
}
