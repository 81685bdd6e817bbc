'use client'
import { useEffect, useState } from 'react'
import type { Screen, ScreenCheck } from '@/core/execution'
import type { Difference, Region } from '@/core/vision'
import { useViewModel } from '../api'
import { Button } from '../base/Button'
import { EvidenceImage } from '../base/EvidenceImage'

const BLINK_MS = 700
const LISTED_MOST = 8
const BORDERS: Record<Region['kind'], string> = {
  changed: 'border-failed',
  added: 'border-act',
  removed: 'border-errored',
  moved: 'border-recovered',
}

/** Two screens over each other, and where they differ.
 * @param known how they differ, where that is known already
 * @param actions what can be done about a part that differs */
export function Differs({
  then,
  now,
  known,
  actions,
}: {
  then: Screen
  now: Screen
  known?: Pick<ScreenCheck, 'ratio' | 'regions'>
  actions?: ((region: Region) => React.ReactNode) | undefined
}) {
  const [share, setShare] = useState(0)
  const [blinks, setBlinks] = useState(false)
  const isThen = useBlinking(blinks)
  const { data, error } = useDifference(then, now, known)
  const isNarrow = now.height > now.width
  const cut = blinks ? Number(isThen) * 100 : share
  return (
    <>
      <div
        className={`relative overflow-hidden border border-line ${isNarrow ? 'mx-auto' : 'w-full'}`}
        style={{
          aspectRatio: `${now.width} / ${now.height}`,
          ...(isNarrow && { height: 'min(400px, 50vh)' }),
        }}
      >
        <EvidenceImage hash={now.hash} alt="The screen at this step" className="absolute inset-0 size-full" />
        <EvidenceImage
          hash={then.hash}
          alt="The screen of the other attempt, over it as far as the slider says"
          className="absolute inset-0 size-full"
          style={{ clipPath: `inset(0 ${100 - cut}% 0 0)` }}
        />
        {!blinks &&
          data?.regions.map((region, i) => <Outlined key={i} region={region} number={i + 1} screen={now} />)}
        {!blinks && share > 0 && share < 100 && (
          <span aria-hidden className="absolute inset-y-0 w-px bg-act" style={{ left: `${share}%` }} />
        )}
      </div>
      <div className="mt-2 flex items-center gap-3 text-xs text-soft">
        <span>Now</span>
        <input
          type="range"
          min={0}
          max={100}
          value={share}
          disabled={blinks}
          onChange={({ target }) => setShare(Number(target.value))}
          aria-label="How much of the screen then lies over that of now"
          className="min-w-0 flex-1 accent-(--act)"
        />
        <span>Then</span>
        <Button
          aria-pressed={blinks}
          onClick={() => setBlinks(!blinks)}
          className={blinks ? '!border-act' : ''}
        >
          Blink
        </Button>
      </div>
      {error && <p className="mt-2 text-sm text-soft">{error.message}</p>}
      {data && <InWords {...data} actions={actions} />}
    </>
  )
}

/** Asked of the server where it is not known. */
function useDifference(then: Screen, now: Screen, known: Pick<ScreenCheck, 'ratio' | 'regions'> | undefined) {
  const told = known?.regions && {
    same: known.regions.length === 0 && then.width === now.width && then.height === now.height,
    ratio: known.ratio ?? 0,
    size: { a: { w: then.width, h: then.height }, b: { w: now.width, h: now.height } },
    regions: known.regions,
  }
  const asked = useViewModel<Difference>(`/api/evidence/${now.hash}/difference?from=${then.hash}`, [], told)
  return { data: told ?? asked.data, error: told ? null : asked.error }
}

/** @returns whether the other is shown now */
function useBlinking(blinks: boolean): boolean {
  const [isThen, setThen] = useState(false)
  useEffect(() => {
    if (!blinks) return
    const timer = setInterval(() => setThen((shown) => !shown), BLINK_MS)
    return () => clearInterval(timer)
  }, [blinks])
  return isThen
}

function Outlined({ region, number, screen }: { region: Region; number: number; screen: Screen }) {
  const { x, y, w, h, kind } = region
  return (
    <span
      aria-hidden
      data-region={kind}
      className={`absolute border-2 ${BORDERS[kind]}`}
      style={{
        left: `${(x / screen.width) * 100}%`,
        top: `${(y / screen.height) * 100}%`,
        width: `${(w / screen.width) * 100}%`,
        height: `${(h / screen.height) * 100}%`,
        margin: -2,
        boxSizing: 'content-box',
      }}
    >
      <b className="absolute -top-px -left-px bg-surface px-1 font-mono text-[10px] leading-3 font-semibold">
        {number}
      </b>
    </span>
  )
}

function InWords({
  same,
  ratio,
  size,
  regions,
  actions,
}: Difference & { actions: ((region: Region) => React.ReactNode) | undefined }) {
  const sizes = size.a.w !== size.b.w || size.a.h !== size.b.h
  if (same) return <p className="mt-2 text-sm">Both screens are the same.</p>
  return (
    <div className="mt-2 text-sm">
      <p>
        {regions.length === 0
          ? 'No part differs'
          : `${regions.length} ${regions.length === 1 ? 'part differs' : 'parts differ'}`}
        , {(ratio * 100).toFixed(ratio < 0.001 ? 2 : 1)} % of the screen
        {sizes && `; it was ${size.a.w} x ${size.a.h}, and is ${size.b.w} x ${size.b.h}`}
      </p>
      <ol className="mt-1 grid gap-0.5 font-mono text-xs text-soft">
        {regions.slice(0, LISTED_MOST).map((region, i) => (
          <li key={i} className="flex flex-wrap items-center gap-2">
            {i + 1} {inWords(region)}
            {actions && <span className="flex gap-1 font-sans">{actions(region)}</span>}
          </li>
        ))}
        {regions.length > LISTED_MOST && <li>and {regions.length - LISTED_MOST} more</li>}
      </ol>
    </div>
  )
}

function inWords({ kind, x, y, w, h, dx = 0, dy = 0 }: Region): string {
  const ways = [
    dx !== 0 && `${Math.abs(dx)} px ${dx > 0 ? 'right' : 'left'}`,
    dy !== 0 && `${Math.abs(dy)} px ${dy > 0 ? 'down' : 'up'}`,
  ].filter(Boolean)
  return `${kind === 'moved' ? `moved ${ways.join(', ')}` : kind}: ${w} x ${h} at ${x}, ${y}`
}
