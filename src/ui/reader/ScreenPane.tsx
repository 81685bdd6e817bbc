'use client'
import type { LineAnswer, OutlineLine, Screen as ScreenFacts } from '@/core/execution'
import type { AttemptViewModel } from '@/core/view-models'
import { PenLine } from 'lucide-react'
import { Button, Key } from '../base/Button'
import { EvidenceImage } from '../base/EvidenceImage'
import { evidenceUrl } from '../base/evidence'
import { TabList, TabPanel, Tabs } from '../base/Tabs'
import { useFrame } from '../frame/tools'
import { Accepted } from './Accepted'
import { CutOut } from './CutOut'
import { Differs } from './Differs'
import { Marked } from './Marked'
import { Video } from './Video'

export const MOMENTS = ['this', 'accepted', 'earlier', 'good', 'differs', 'video', 'display'] as const
export type Moment = (typeof MOMENTS)[number]
const TITLES: Record<Moment, string> = {
  this: 'This moment',
  accepted: 'Accepted',
  earlier: 'Earlier',
  good: 'Then',
  differs: 'What differs',
  video: 'Video',
  display: 'Whole display',
}

type Props = {
  /** A dialog is over it. */ covered: boolean
  answer: LineAnswer
  viewModel: AttemptViewModel
  /** What it is compared with, and its line for this one. */
  good: AttemptViewModel | undefined
  goodLine: LineAnswer | undefined
  /** Which attempt that is. */
  goodTitle: string
  moment: Moment
  onMoment(moment: Moment): void
  onLarge(): void
  onMarkUp(): void
  /** The moment that is shown; absent: that of the line. */
  time: number | undefined
  onSeek(ms: number): void
  onTime(path: string): void
  onPlay(ms: number): void
}

export function ScreenPane({
  covered,
  answer,
  viewModel,
  good,
  goodLine,
  goodTitle,
  moment,
  onMoment,
  onLarge,
  onMarkUp,
  time,
  onSeek,
  onTime,
  onPlay,
}: Props) {
  const { line } = answer
  const offered = momentsOf(viewModel, line)
  const goodScreen = good && goodLine?.shown.this
  const nowScreen = answer.shown.this
  const screen = moment === 'good' ? goodScreen : answer.shown[moment === 'earlier' ? 'earlier' : 'this']
  const source = moment === 'good' ? good : viewModel
  const box = moment === 'good' ? goodLine?.line.box : line.box
  const isVideo = moment === 'video' && viewModel.video !== null
  const { may } = useFrame()
  const check = moment === 'accepted' ? line.screenCheck : undefined
  const display = moment === 'display' ? viewModel.display : null
  const isOneScreen = !isVideo && !check && !display && moment !== 'differs'
  return (
    <section aria-label="Screen" className="flex min-h-0 flex-col overflow-auto py-2 pr-[18px] pl-2">
      <Tabs value={moment} onChange={onMoment}>
        <TabList label="Which screen" tabs={offered.map((key) => ({ key, label: TITLES[key] }))}>
          <button
            type="button"
            onClick={onLarge}
            disabled={!screen}
            className="ml-auto flex items-center gap-1 text-xs text-soft hover:text-ink"
          >
            <Key>e</Key> large
          </button>
        </TabList>
        <TabPanel value={moment} className="mt-2 shrink-0">
          {isVideo && (
            <Video
              covered={covered}
              viewModel={viewModel}
              answer={answer}
              time={time}
              onSeek={onSeek}
              onTime={onTime}
              onPlay={onPlay}
            />
          )}
          {display && <Display hash={display} />}
          {check && <Accepted key={line.path} attempt={viewModel} path={line.path} check={check} />}
          {moment === 'differs' && goodScreen && nowScreen && (
            <Differs key={`${goodScreen.hash} ${nowScreen.hash}`} then={goodScreen} now={nowScreen} />
          )}
          {moment === 'differs' && !(goodScreen && nowScreen) && (
            <Missing>
              There is no screen to compare:{' '}
              {nowScreen ? 'the other attempt has none here' : 'this step has none'}.
            </Missing>
          )}
          {isOneScreen && screen && source && (
            <Framed
              screen={screen}
              box={box}
              failing={line.failing && moment === 'this'}
              environment={source.environment}
              onLarge={onLarge}
            />
          )}
          {isOneScreen && !(screen && source) && (
            <Missing>{whyNoScreen(line, moment === 'good' && !good)}</Missing>
          )}
        </TabPanel>
      </Tabs>
      {isOneScreen && screen && may('tester') && (
        <div className="mt-1.5 flex justify-end gap-1">
          {moment !== 'good' && (
            <Button look="quiet" className="!h-7 !px-2" keyHint="m" onClick={onMarkUp}>
              <PenLine size={14} aria-hidden /> Mark up
            </Button>
          )}
          <CutOut key={screen.hash} screen={screen} proposed={box} />
        </div>
      )}
      <Marked attempt={viewModel} path={line.path} />
      <p className="mt-1.5 text-xs text-soft">{caption(viewModel, moment, goodTitle)}</p>
    </section>
  )
}

/** What there is to look at, of a line of an attempt. */
export const momentsOf = (
  { others, video, display }: Pick<AttemptViewModel, 'others' | 'video' | 'display'>,
  line: OutlineLine | undefined,
): Moment[] =>
  MOMENTS.filter(
    (name) =>
      (!['good', 'differs'].includes(name) || others.length > 0) &&
      (name !== 'video' || video !== null) &&
      (name !== 'display' || (display !== null && line?.failing === true)) &&
      (name !== 'accepted' || line?.screenCheck !== undefined),
  )

/** All that stood on the display of the agent: what the browser opened beside its page, too. */
const Display = ({ hash }: { hash: string }) => (
  <a href={evidenceUrl(hash)} target="_blank" rel="noreferrer" className="block border border-line bg-black">
    <EvidenceImage hash={hash} alt="The whole display at the failure" className="w-full" />
  </a>
)

const Missing = ({ children }: { children: React.ReactNode }) => (
  <p className="rounded-oak border border-dashed border-line p-6 text-sm text-soft">{children}</p>
)

function whyNoScreen(line: OutlineLine, isReading: boolean): string {
  if (isReading) return 'Reading the other attempt.'
  return line.startMs === undefined
    ? 'This step was not reached, so there is no screen of it.'
    : 'There is no screen of this moment.'
}

function caption(viewModel: AttemptViewModel, moment: Moment, goodTitle: string): string {
  if (moment === 'good') return goodTitle
  if (moment === 'display')
    return 'The whole display of the agent when it failed, with the browser’s own parts.'
  if (moment === 'differs') return `Then: ${goodTitle}`
  if (viewModel.environment.simulated)
    return (
      'Simulated agent: the page is real, drawn by Chromium at this screen size; references are left ' +
      'out. It records no video.'
    )
  return viewModel.video ? '' : 'No video of this attempt.'
}

function Framed({
  screen,
  box,
  failing,
  environment,
  onLarge,
}: {
  screen: ScreenFacts
  box: OutlineLine['box']
  failing: boolean
  environment: AttemptViewModel['environment']
  onLarge(): void
}) {
  const narrow = environment.height > environment.width
  return (
    <button
      type="button"
      onClick={onLarge}
      aria-label="The screen, large"
      className={`relative block border border-line ${narrow ? 'mx-auto' : 'w-full'}`}
      style={
        narrow
          ? { height: 'min(440px, 56vh)', aspectRatio: `${environment.width} / ${environment.height}` }
          : { aspectRatio: `${environment.width} / ${environment.height}` }
      }
    >
      <EvidenceImage
        key={screen.hash}
        hash={screen.hash}
        alt="The screen at this step"
        className="absolute inset-0 size-full"
        data-evidence="screen"
      />
      {box && (
        <span
          aria-hidden
          className={`absolute border-[3px] ${failing ? 'border-failed' : 'border-act'}`}
          style={{
            left: `${(box.x / screen.width) * 100}%`,
            top: `${(box.y / screen.height) * 100}%`,
            width: `${(box.w / screen.width) * 100}%`,
            height: `${(box.h / screen.height) * 100}%`,
            margin: -3,
            boxSizing: 'content-box',
          }}
        />
      )}
    </button>
  )
}
