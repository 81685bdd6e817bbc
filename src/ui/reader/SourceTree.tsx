'use client'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem } from '../base/Parts'
import { evidenceUrl, readEvidence } from '../base/evidence'
import { TextField } from '../base/fields'
import { elementsWith, meantBy, ownText, parseSource, pathTo, SOURCE_MOST, tagOf } from './source-tree'

/** Children that are drawn at once. */
const CHILDREN_MOST = 200
/** So deep it is open, where nothing in it is meant. */
const OPEN_DEPTH = 3

/** The source of the page at a failure, opened at what the step was about.
 * @param about the step's words for it */
export function SourceTree({ hash, about, onClose }: { hash: string; about: string; onClose(): void }) {
  const { data, error } = useQuery({
    queryKey: ['source', hash],
    queryFn: () => readEvidence(hash),
    retry: false,
  })
  return (
    <Dialog open onClose={onClose} title="Source of the page at the failure" wide="widest">
      {error && <Problem>{error.message}</Problem>}
      {data !== undefined && data.length > SOURCE_MOST && (
        <p className="text-sm">It is too large to be shown as a tree.</p>
      )}
      {data !== undefined && data.length <= SOURCE_MOST && <Tree source={data} about={about} />}
      <p className="mt-3 text-sm">
        <a href={evidenceUrl(hash)} target="_blank" rel="noreferrer" className="underline underline-offset-2">
          The source as text
        </a>{' '}
        <span className="text-soft">No script of it runs here, and nothing of it is loaded.</span>
      </p>
    </Dialog>
  )
}

function Tree({ source, about }: { source: string; about: string }) {
  const root = useMemo(() => parseSource(source), [source])
  const meant = useMemo(() => meantBy(root, about), [root, about])
  const [text, setText] = useState('')
  const [nth, setNth] = useState(0)
  const hits = useMemo(() => elementsWith(root, text), [root, text])
  const shown = text.trim() === '' ? meant : hits[nth % Math.max(1, hits.length)]
  const way = useMemo(() => pathTo(shown), [shown])
  return (
    <div>
      <div className="mb-2 flex items-center gap-2 text-sm">
        <TextField
          aria-label="Find in the source"
          placeholder="Find in the source"
          width="w-64"
          value={text}
          onChange={({ target }) => {
            setText(target.value)
            setNth(0)
          }}
          onKeyDown={({ key }) => key === 'Enter' && setNth(nth + 1)}
        />
        {text.trim() !== '' && (
          <span role="status" className="text-soft">
            {hits.length === 0 ? 'nowhere' : `${(nth % hits.length) + 1} of ${hits.length}`}
          </span>
        )}
        {hits.length > 1 && <Button onClick={() => setNth(nth + 1)}>Next</Button>}
        {text.trim() === '' && (
          <span className="text-soft">
            {meant ? `Opened at “${about}”` : about !== '' && `Nothing in it is like “${about}”`}
          </span>
        )}
      </div>
      {/* what it holds is scrolled by keys */}
      <div
        role="region"
        tabIndex={0}
        aria-label="The source"
        className="max-h-[56vh] overflow-auto border border-line bg-surface p-2 font-mono text-xs leading-[19px]"
      >
        <Branch element={root} way={way} shown={shown} depth={0} />
      </div>
    </div>
  )
}

type BranchProps = { element: Element; way: ReadonlySet<Element>; shown: Element | undefined; depth: number }
function Branch({ element, way, shown, depth }: BranchProps) {
  const [turned, setTurned] = useState<{ way: ReadonlySet<Element>; open: boolean }>()
  const [most, setMost] = useState(CHILDREN_MOST)
  const line = useRef<HTMLDivElement>(null)
  const isShown = element === shown
  // what was opened by hand stays so until something else is looked for
  const isOpen = turned?.way === way ? turned.open : way.has(element) || depth < OPEN_DEPTH
  const children = isOpen ? [...element.children] : []
  const drawn = Math.max(most, children.findIndex((child) => way.has(child)) + 1)
  useEffect(() => {
    if (isShown) line.current?.scrollIntoView({ block: 'center' })
  }, [isShown])
  const text = ownText(element)
  return (
    <div>
      <div
        ref={line}
        className={`whitespace-nowrap ${isShown ? 'bg-recovered-wash' : ''}`}
        style={{ paddingLeft: depth * 14 }}
      >
        {element.children.length > 0 ? (
          <button
            type="button"
            aria-expanded={isOpen}
            aria-label={`${isOpen ? 'Close' : 'Open'} ${element.localName}`}
            onClick={() => setTurned({ way, open: !isOpen })}
            className="mr-1 w-4 text-soft hover:text-ink"
          >
            {isOpen ? '▾' : '▸'}
          </button>
        ) : (
          <span className="mr-1 inline-block w-4" />
        )}
        <span className="text-soft">{tagOf(element)}</span> {text}
      </div>
      {children.slice(0, drawn).map((child, i) => (
        <Branch key={i} element={child} way={way} shown={shown} depth={depth + 1} />
      ))}
      {children.length > drawn && (
        <button
          type="button"
          className="ml-8 underline underline-offset-2"
          onClick={() => setMost(drawn + CHILDREN_MOST)}
        >
          {children.length - drawn} more
        </button>
      )}
    </div>
  )
}
