'use client'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useMemo, useReducer, useRef, useState } from 'react'
import { toast } from 'sonner'
import type { DefinitionKind, Edit } from '@/core/model'
import type * as Editing from '@/core/model/editing'
import {
  readDraft,
  reduceDraft,
  UNTOUCHED,
  type BenchViewModel,
  type DraftViewModel,
  type EditConflict,
} from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { whenAtRest } from '../base/at-rest'
import { dropUnsaved, keepUnsaved, readUnsaved } from './unsaved'

export type Draft = ReturnType<typeof useDraft>

/** One definition under edit: the text is the truth, and every change of it can be undone. Unsaved text
 * survives a reload.
 * Saving says which version the text was made from; when somebody was quicker, both texts are kept and
 * `conflict` holds the other. */
export function useDraft(kind: DefinitionKind, key: string, initial?: BenchViewModel) {
  const path = `/api/definitions/${kind}/${key}`
  const client = useQueryClient()
  const { data: viewModel, error } = useViewModel<BenchViewModel>(path, ['definitions'], initial)
  const [state, act] = useReducer(reduceDraft, UNTOUCHED)
  const [saving, setSaving] = useState(false)
  const restored = useRef(false)
  // The library that edits YAML comes when the page is drawn and at rest: reading needs none of it.
  const editing = useRef<typeof Editing>(undefined)
  const coming = useRef<Promise<unknown>>(undefined)
  const fetchEditing = useCallback(
    () => (coming.current ??= import('@/core/model/editing').then((module) => (editing.current = module))),
    [],
  )
  useEffect(() => whenAtRest(() => void fetchEditing()), [fetchEditing])

  const { source: keptSource = '', version = 0 } = viewModel ?? {}
  const kept = useMemo(() => ({ source: keptSource, version }), [keptSource, version])
  const { source, dirty, baseVersion, behind, canUndo, canRedo } = readDraft(state, kept)

  useEffect(() => {
    if (!viewModel || restored.current) return
    restored.current = true
    // The browser’s store: the server’s drawing cannot see it.
    const stored = readUnsaved(kind, key)
    if (!stored || stored.source === viewModel.source) return
    act({ do: 'restore', kept, ...stored })
    toast(`Your unsaved text of ${key} is here again`)
  }, [viewModel, kept, kind, key])
  useEffect(() => {
    if (dirty) keepUnsaved(kind, key, { source, base: baseVersion })
    else if (restored.current) dropUnsaved(kind, key)
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

  const change = useCallback((next: (text: string) => string) => act({ do: 'change', kept, next }), [kept])

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
      change((text) => (text === source ? edited : editedWhereItFits(text, edits, editSource)))
      return true
    },
    [source, change, fetchEditing],
  )
  useEffect(() => {
    newest.current = edit
  })

  const discard = useCallback(() => {
    act({ do: 'discard' })
    dropUnsaved(kind, key)
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
        act({ do: 'show-conflict', conflict: detail as EditConflict })
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
    conflict: state.conflict,
    /** What the text says now; the last sound reading while it says nothing sound. */
    definition: draft?.definition ?? lastGood ?? viewModel?.draft.definition,
    problems: draft?.problems ?? [],
    warnings: draft?.warnings ?? [],
    edit,
    write: (text: string) => change(() => text),
    undo: () => act({ do: 'go', by: -1 }),
    redo: () => act({ do: 'go', by: 1 }),
    canUndo,
    canRedo,
    save,
    discard,
    showConflict: (conflict: EditConflict | undefined) => act({ do: 'show-conflict', conflict }),
    /** Takes the other's text; mine stays one undo away. */
    takeTheirs: (conflict: EditConflict) => act({ do: 'take-theirs', kept, conflict }),
    rebase: (onto: number) => act({ do: 'rebase', version: onto }),
  }
}

/** Of two edits at once, the second one is made in what the first one left, where it still fits. */
function editedWhereItFits(text: string, edits: Edit[], editSource: typeof Editing.editSource): string {
  try {
    return editSource(text, edits)
  } catch {
    return text
  }
}
