/** A text under edit: what somebody has done to it since it was kept, and what others saved meanwhile. */

/** What somebody else saved while this text was edited. */
export type EditConflict = { version: number; who: string; at: string; changes: string[]; source: string }

export type DraftState = {
  /** Texts one after the other, and which of them stands there now. The first is what was kept when editing
   * began: back there, nothing is edited. */
  steps?: { texts: readonly string[]; at: number } | undefined
  /** Number of the version the text was made from. */
  base?: number | undefined
  conflict?: EditConflict | undefined
}

/** A text as it is kept, and the number of its version. */
export type Kept = { source: string; version: number }

export type DraftAction =
  /** Unsaved text of an earlier visit is here again. */
  | { do: 'restore'; kept: Kept; source: string; base: number }
  /** `next` is given the text as it stands when the change is made: two changes at once follow each other. */
  | { do: 'change'; kept: Kept; next: (text: string) => string }
  /** Undo (-1) and redo (1). */
  | { do: 'go'; by: number }
  | { do: 'discard' }
  | { do: 'show-conflict'; conflict: EditConflict | undefined }
  /** The other's text instead of mine, which stays one undo away. */
  | { do: 'take-theirs'; kept: Kept; conflict: EditConflict }
  /** Mine over theirs: it follows their version from now on. */
  | { do: 'rebase'; version: number }

/** So many texts are remembered: undo goes back through the latest ones, and from the oldest of them to the
 * first. */
export const UNDO_MOST = 300

export const UNTOUCHED: DraftState = {}

/** @returns the state after an action; the same object when nothing changed */
export function reduceDraft(state: DraftState, action: DraftAction): DraftState {
  switch (action.do) {
    case 'restore':
      return { steps: { texts: [action.kept.source, action.source], at: 1 }, base: action.base }
    case 'change':
      return changed(state, action.kept, action.next)
    case 'go':
      return moved(state, action.by)
    case 'discard':
      return UNTOUCHED
    case 'show-conflict':
      return { ...state, conflict: action.conflict }
    case 'take-theirs': {
      const { source, version } = action.conflict
      return { ...changed(state, action.kept, () => source), base: version, conflict: undefined }
    }
    case 'rebase':
      return { ...state, base: action.version, conflict: undefined }
  }
}

/** What stands there now. While nothing is edited here, what others save is simply shown. */
export function readDraft({ steps, base }: DraftState, kept: Kept) {
  const text = steps && steps.texts[steps.at]!
  const isEdited = steps !== undefined && text !== steps.texts[0]
  const source = isEdited ? text! : kept.source
  const dirty = isEdited && source !== kept.source
  const baseVersion = base ?? kept.version
  return {
    source,
    /** Whether there is something to save. */
    dirty,
    baseVersion,
    /** Whether somebody saved after this text was begun. */
    behind: dirty && kept.version > baseVersion,
    canUndo: steps !== undefined && steps.at > 0,
    canRedo: steps !== undefined && steps.at < steps.texts.length - 1,
  }
}

function changed(state: DraftState, kept: Kept, next: (text: string) => string): DraftState {
  const { dirty } = readDraft(state, kept)
  const goesOn = state.steps && (dirty || state.steps.texts[0] === kept.source)
  const { texts, at } = goesOn ? state.steps! : { texts: [kept.source], at: 0 }
  const text = next(texts[at]!)
  if (text === texts[at]) return state
  const [first = text, ...later] = texts.slice(0, at + 1)
  const past = [first, ...later.slice(2 - UNDO_MOST), text]
  return {
    ...state,
    steps: { texts: past, at: past.length - 1 },
    base: dirty ? (state.base ?? kept.version) : kept.version,
  }
}

function moved(state: DraftState, by: number): DraftState {
  if (!state.steps) return state
  const at = Math.max(0, Math.min(state.steps.texts.length - 1, state.steps.at + by))
  return at === state.steps.at ? state : { ...state, steps: { ...state.steps, at } }
}
