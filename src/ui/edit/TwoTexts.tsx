import { diffLines } from 'diff'

type Line = { text: string; added: boolean; removed: boolean }

/** Two texts as one, with what differs marked by sign and colour.
 * @param around so many lines around what differs are shown; absent: all */
export function TwoTexts({
  mine,
  theirs,
  theirName,
  myName = 'yours',
  around,
}: {
  mine: string
  theirs: string
  theirName: string
  myName?: string
  around?: number
}) {
  const lines = linesOf(theirs, mine)
  const shown = around === undefined ? lines.map((_, i) => i) : near(lines, around)
  return (
    <figure className="max-h-[46vh] overflow-auto rounded-oak border border-line bg-surface">
      <figcaption className="flex gap-4 border-b border-line px-3 py-1.5 text-xs text-soft">
        <span>
          <b className="text-failed">−</b> {theirName}
        </span>
        <span>
          <b className="text-passed-text">+</b> {myName}
        </span>
      </figcaption>
      <pre tabIndex={0} className="px-3 py-2 font-mono text-xs leading-[18px]">
        {shown.map((i, j) => (
          <div key={i}>
            {j > 0 && i > shown[j - 1]! + 1 && <div className="text-soft">…</div>}
            <DifferentLine {...lines[i]!} />
          </div>
        ))}
      </pre>
    </figure>
  )
}

const linesOf = (theirs: string, mine: string): Line[] =>
  diffLines(theirs, mine).flatMap(({ added, removed, value }) =>
    value
      .replace(/\n$/, '')
      .split('\n')
      .map((text) => ({ text, added, removed })),
  )

/** Places of the lines that differ, and of those so near to one. */
function near(lines: readonly Line[], around: number): number[] {
  const different = lines.flatMap(({ added, removed }, i) => (added || removed ? [i] : []))
  return lines.flatMap((_, i) => (different.some((at) => Math.abs(at - i) <= around) ? [i] : []))
}

function DifferentLine({ text, added, removed }: Line) {
  if (added) return <div className="bg-passed-wash">+ {text}</div>
  if (removed) return <div className="bg-failed-wash">− {text}</div>
  return (
    <div>
      {'  '}
      {text}
    </div>
  )
}
