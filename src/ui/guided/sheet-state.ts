/** What happens on the sheet of a guided case in the page: pure, so that it can be tested without one. */
import {
  isJudged,
  standOf,
  type GuidedPicture,
  type GuidedStep,
  type GuidedVerdict,
  type GuidedVideo,
} from '@/core/guided'
import type { PersonsVerdict } from '@/core/live'

type Written = { note: string; pictures: readonly GuidedPicture[] }
export type SheetState = {
  steps: readonly GuidedStep[]
  /** By the path of its step. */
  said: Readonly<Record<string, { is: PersonsVerdict; atMs: number }>>
  written: Readonly<Record<string, Written>>
  video: GuidedVideo | null
  selected: string | undefined
  /** What was said before, the newest last: for undo. */
  before: readonly Readonly<Record<string, { is: PersonsVerdict; atMs: number }>>[]
  /** Grows with each change that has to be kept. */
  edits: number
}
export type SheetAction =
  | { do: 'say'; is: PersonsVerdict; atMs: number }
  /** All that only has to be done, up to what is to be looked at. */
  | { do: 'say-done'; atMs: number }
  | { do: 'note'; text: string }
  | { do: 'add-picture'; path: string; picture: GuidedPicture }
  | { do: 'drop-picture'; hash: string }
  /** One that was cut or marked up stands in the place of what it was made from. `note`: what it shows. */
  | { do: 'swap-picture'; path: string; hash: string; picture: GuidedPicture; note: string }
  /** One a case: another one takes its place. */
  | { do: 'keep-video'; video: GuidedVideo | null }
  | { do: 'select'; path: string }
  | { do: 'move'; by: 1 | -1 }
  | { do: 'undo' }
/** As many as the log shows of a step. */
export const PICTURES_MOST = 2
const UNDONE_MOST = 100
const NOTHING: Written = { note: '', pictures: [] }

export const writtenOf = ({ written }: SheetState, path: string | undefined): Written =>
  (path === undefined ? undefined : written[path]) ?? NOTHING

/** @param verdicts that were kept */
export function sheetState(
  steps: readonly GuidedStep[],
  verdicts: readonly GuidedVerdict[],
  video: GuidedVideo | null = null,
): SheetState {
  return {
    steps,
    said: Object.fromEntries(verdicts.map(({ path, is, atMs }) => [path, { is, atMs }])),
    written: Object.fromEntries(verdicts.map(({ path, note, pictures }) => [path, { note, pictures }])),
    video,
    selected: standOf(steps, verdicts).next ?? steps.find(isJudged)?.path,
    before: [],
    edits: 0,
  }
}

export function onSheet(state: SheetState, action: SheetAction): SheetState {
  const { steps, said, selected } = state
  switch (action.do) {
    case 'say': {
      if (selected === undefined) return state
      return toNext(changed(state, { ...said, [selected]: { is: action.is, atMs: action.atMs } }), selected)
    }
    case 'say-done': {
      const paths = onlyToDo(state)
      const last = paths.at(-1)
      if (last === undefined) return state
      const done = Object.fromEntries(
        paths.map((path) => [path, { is: 'passed' as const, atMs: action.atMs }]),
      )
      return toNext(changed(state, { ...said, ...done }), last)
    }
    case 'note':
      return write(state, selected, { note: action.text })
    case 'add-picture': {
      const { pictures } = writtenOf(state, action.path)
      if (pictures.some(({ hash }) => hash === action.picture.hash)) return state
      return write(state, action.path, { pictures: [...pictures, action.picture].slice(-PICTURES_MOST) })
    }
    case 'drop-picture':
      return write(state, selected, {
        pictures: writtenOf(state, selected).pictures.filter(({ hash }) => hash !== action.hash),
      })
    case 'swap-picture': {
      const { note, pictures } = writtenOf(state, action.path)
      return write(state, action.path, {
        note: [note.trimEnd(), action.note].filter((text) => text !== '').join('\n'),
        pictures: pictures.map((picture) => (picture.hash === action.hash ? action.picture : picture)),
      })
    }
    case 'keep-video':
      return { ...state, video: action.video, edits: state.edits + 1 }
    case 'select':
      return { ...state, selected: action.path }
    case 'move': {
      const paths = steps.filter(isJudged).map(({ path }) => path)
      const next = paths[paths.indexOf(selected ?? '') + action.by]
      return next === undefined ? state : { ...state, selected: next }
    }
    case 'undo': {
      const last = state.before.at(-1)
      if (!last) return state
      const back = steps.find(
        ({ path }) => said[path] !== undefined && last[path]?.is !== said[path].is,
      )?.path
      return {
        ...state,
        said: last,
        before: state.before.slice(0, -1),
        selected: back ?? selected,
        edits: state.edits + 1,
      }
    }
  }
}

const changed = (state: SheetState, said: SheetState['said']): SheetState => ({
  ...state,
  said,
  before: [...state.before, state.said].slice(-UNDONE_MOST),
  edits: state.edits + 1,
})

/** A note alone is kept with its verdict: before there is one nothing has to be kept. */
function write(state: SheetState, path: string | undefined, more: Partial<Written>): SheetState {
  if (path === undefined) return state
  return {
    ...state,
    written: { ...state.written, [path]: { ...writtenOf(state, path), ...more } },
    edits: state.edits + (state.said[path] === undefined ? 0 : 1),
  }
}

/** On to what nobody has judged yet, after this one; else it stays. */
function toNext(state: SheetState, from: string): SheetState {
  const judged = state.steps.filter(isJudged)
  const at = judged.findIndex(({ path }) => path === from)
  const isOpen = ({ path }: GuidedStep) => state.said[path] === undefined
  const next = judged.slice(at + 1).find(isOpen) ?? judged.find(isOpen)
  return { ...state, selected: next?.path ?? from }
}

/** Steps from the selected one on that only have to be done, up to the first that is to be looked at. */
export function onlyToDo({ steps, said, selected }: SheetState): string[] {
  const judged = steps.filter(isJudged)
  const from = judged.slice(
    Math.max(
      0,
      judged.findIndex(({ path }) => path === selected),
    ),
  )
  const end = from.findIndex((step) => step.kind === 'check' || step.expected !== undefined)
  return from
    .slice(0, end < 0 ? from.length : end)
    .flatMap(({ path }) => (said[path] === undefined ? [path] : []))
}

export const verdictsOf = (state: SheetState): GuidedVerdict[] =>
  state.steps.flatMap(({ path }) => {
    const one = state.said[path]
    if (!one) return []
    const { note, pictures } = writtenOf(state, path)
    return [{ path, ...one, note, pictures: [...pictures] }]
  })
