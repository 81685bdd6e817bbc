'use client'
import { autocompletion, type CompletionContext } from '@codemirror/autocomplete'
import { yaml } from '@codemirror/lang-yaml'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { tags } from '@lezer/highlight'
import { lintGutter, setDiagnostics, type Diagnostic } from '@codemirror/lint'
import CodeMirror, { EditorView, hoverTooltip, type ReactCodeMirrorRef } from '@uiw/react-codemirror'
import { useEffect, useMemo, useRef } from 'react'
import { helpOfField, helpOfVerb } from '@/core/help'
import type { DefinitionKind, FileProblem } from '@/core/model'
import { completionsAt, type Offers } from '@/core/model/editing'

/** What a word of a file does, as the pages of help say it. */
const helpOf = (kind: DefinitionKind, word: string): string | undefined =>
  helpOfVerb(word)?.text ?? helpOfField(kind, word)?.says

function withHelp(kind: DefinitionKind, found: ReturnType<typeof completionsAt>) {
  if (!found) return null
  const options = found.options.map((option) => {
    const help = helpOf(kind, option.label.replace(/:\s*$/, ''))
    return help ? { ...option, info: help } : option
  })
  return { ...found, options }
}

/** The word at the beginning of a line says what it does when the pointer rests on it. */
const wordHelp = (kind: DefinitionKind) =>
  hoverTooltip((view, pos) => {
    const { from, text } = view.state.doc.lineAt(pos)
    const [, before = '', word = ''] = /^(\s*-?\s*)([\w-]+):/.exec(text) ?? []
    const start = from + before.length
    const help = helpOf(kind, word)
    if (!help || pos < start || pos > start + word.length) return null
    return {
      pos: start,
      end: start + word.length,
      create: () => {
        const dom = document.createElement('div')
        dom.className = 'max-w-[420px] px-3 py-2 text-sm'
        dom.textContent = help
        return { dom }
      },
    }
  })

type Props = {
  kind: DefinitionKind
  source: string
  problems: readonly FileProblem[]
  warnings: readonly FileProblem[]
  offers: Offers
  editable: boolean
  onChange(text: string): void
  line?: number | undefined
  label: string
}

const LOOK = EditorView.theme({
  '&': { fontSize: '12px', backgroundColor: 'var(--surface)', color: 'var(--ink)', height: '100%' },
  '&.cm-focused': { outline: 'none' },
  '.cm-content': { fontFamily: 'var(--font-mono, monospace)', caretColor: 'var(--ink)', padding: '8px 0' },
  '.cm-gutters': { backgroundColor: 'var(--surface)', color: 'var(--soft)', border: 'none' },
  '.cm-activeLine, .cm-activeLineGutter': { backgroundColor: 'var(--act-wash)' },
  '.cm-cursor': { borderLeftColor: 'var(--ink)' },
  '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': {
    backgroundColor: 'var(--line) !important',
  },
  '.cm-tooltip': {
    backgroundColor: 'var(--raised)',
    color: 'var(--ink)',
    border: '1px solid var(--line)',
    borderRadius: '6px',
  },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--act)', color: 'var(--act-ink)' },
  '.cm-diagnostic-error': { borderLeftColor: 'var(--failed)' },
  '.cm-panels': { backgroundColor: 'var(--raised)', color: 'var(--ink)' },
})

/** Our own ink, so that both themes read. */
const INK = syntaxHighlighting(
  HighlightStyle.define([
    { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: 'var(--act)' },
    { tag: tags.comment, color: 'var(--soft)', fontStyle: 'italic' },
    { tag: [tags.string, tags.content], color: 'var(--ink)' },
    { tag: [tags.separator, tags.punctuation, tags.brace], color: 'var(--soft)' },
  ]),
)

/** The file itself. What is wrong in it is marked at its line; what may be written is offered as one
 * types. */
export function SourcePane({
  kind,
  source,
  problems,
  warnings,
  offers,
  editable,
  onChange,
  line,
  label,
}: Props) {
  const editor = useRef<ReactCodeMirrorRef>(null)
  const latest = useRef(offers)
  useEffect(() => {
    latest.current = offers
  })
  const extensions = useMemo(() => {
    const complete = (context: CompletionContext) =>
      kind === 'data'
        ? null
        : withHelp(kind, completionsAt(kind, context.state.sliceDoc(0, context.pos), latest.current))
    // eslint-disable-next-line react-hooks/refs -- read when a completion is asked for, never while drawing
    const completing = autocompletion({ override: [complete], icons: false })
    return [
      LOOK,
      INK,
      EditorView.lineWrapping,
      EditorView.contentAttributes.of({ 'aria-label': label }),
      lintGutter(),
      ...(kind === 'data' ? [] : [yaml(), wordHelp(kind), completing]),
    ]
  }, [kind, label])

  useEffect(() => {
    const view = editor.current?.view
    if (!view) return
    const mark =
      (severity: Diagnostic['severity']) =>
      ({ line: at, column, message }: FileProblem): Diagnostic => {
        const { from, to } = view.state.doc.line(Math.min(at, view.state.doc.lines))
        return { from: Math.min(from + column - 1, to), to, severity, message }
      }
    view.dispatch(
      setDiagnostics(view.state, [...problems.map(mark('error')), ...warnings.map(mark('warning'))]),
    )
  }, [problems, warnings, source])
  useEffect(() => {
    const view = editor.current?.view
    if (!view || line === undefined || line > view.state.doc.lines) return
    view.dispatch({
      effects: EditorView.scrollIntoView(view.state.doc.line(line).from, { y: 'center' }),
      selection: { anchor: view.state.doc.line(line).from },
    })
  }, [line])

  return (
    <CodeMirror
      ref={editor}
      value={source}
      onChange={onChange}
      editable={editable}
      readOnly={!editable}
      theme="none"
      extensions={extensions}
      height="100%"
      className="h-full min-h-0"
      basicSetup={{ foldGutter: false, highlightActiveLine: editable }}
    />
  )
}
