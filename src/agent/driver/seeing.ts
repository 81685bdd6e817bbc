/** A driver that also finds what can only be seen: words, and pictures, on the screen. What it sees it hands
 * to the driver as a point of the page. */
import { describeTarget, SCREEN_WAYS, waysInPage, type Target } from '@/core/model'
import { findText, linesIn, type Box, type FoundText } from '@/core/vision'
import { notOne } from './ambiguous'
import { compareScreen } from './comparing'
import type { Eyes, WordsSeen } from './eyes'
import { DriverFault, type BrowserDriver, type Found, type Look, type ScreenShot } from './port'

/** What was seen of a target, in CSS pixels. */
type Seen = FoundText & { way: SeenWay }
type SeenWay = (typeof SCREEN_WAYS)[number]

/** Buttons of the same look differ in their words alone: a place whose score is so much lower is another one.
 * */
const AS_GOOD = 0.04
/** A screen that has not changed is not read again; what is on it changes while a page loads. */
const LOOK_AGAIN_MS = 250
const SHOT_MS = 8000
const NOT_SEEN: Look = { count: 0, text: '', value: '', states: ['hidden'] }

export const needsEyes = (target: Target | undefined): boolean =>
  SCREEN_WAYS.some((way) => target?.[way] !== undefined)

/** @param driver has to find what is at a point (`spot`)
 * @param pictures by the names that targets call them */
export function seeing(
  driver: BrowserDriver,
  eyes: Eyes,
  pictures: Readonly<Record<string, string>> = {},
): BrowserDriver {
  const sight = new Sight(driver, eyes, pictures)
  const at = <R extends Found | undefined>(
    target: Target,
    limitMs: number,
    act: (target: Target, limitMs: number) => Promise<R>,
  ) => sight.act(target, limitMs, act)
  const own: Partial<BrowserDriver> = {
    click: (target, limitMs, how) => at(target, limitMs, (one, left) => driver.click(one, left, how)),
    type: (target, text, limitMs, hide) =>
      at(target, limitMs, (one, left) => driver.type(one, text, left, hide)),
    choose: (target, option, limitMs, also) =>
      at(target, limitMs, (one, left) => driver.choose(one, option, left, also)),
    press: (key, target, limitMs) =>
      target
        ? at(target, limitMs, (one, left) => driver.press(key, one, left))
        : driver.press(key, target, limitMs),
    hover: (target, limitMs) => at(target, limitMs, (one, left) => driver.hover(one, left)),
    drag: (from, to, limitMs) =>
      at(from, limitMs, async (one, left) => driver.drag(one, await sight.seen(to, left), left)),
    upload: (target, files, limitMs) => at(target, limitMs, (one, left) => driver.upload(one, files, left)),
    scrollTo: (target, limitMs) => at(target, limitMs, (one, left) => driver.scrollTo(one, left)),
    scrollBy: async (by, within, limitMs) =>
      driver.scrollBy(by, within && (await sight.seen(within, limitMs)), limitMs),
    look: (target) => sight.look(target),
    linesIn: (part) => sight.linesIn(part),
    compareScreen: (wanted) => compareScreen(driver, eyes, (target) => sight.look(target), wanted),
    attribute: async (target, name) => {
      const [one] = needsEyes(target) ? await sight.spots(target) : [target]
      return one && driver.attribute(one, name)
    },
  }
  return new Proxy(driver, {
    get: (from, name) => {
      const value = (own[name as keyof BrowserDriver] ?? from[name as keyof BrowserDriver]) as unknown
      return typeof value === 'function' ? (value as () => unknown).bind(from) : value
    },
  })
}

type LastScreen = {
  picture: Uint8Array
  words?: Promise<WordsSeen>
  patches: Map<string, Promise<Seen[]>>
}

class Sight {
  /** The screen that was looked at last, and what was asked of it. */
  private last: LastScreen | undefined

  constructor(
    private readonly driver: BrowserDriver,
    private readonly eyes: Eyes,
    private readonly pictures: Readonly<Record<string, string>>,
  ) {}

  /** Finds the target in the page or, where it is not there, on the screen; then acts. */
  async act<R extends Found | undefined>(
    target: Target,
    limitMs: number,
    act: (target: Target, limitMs: number) => Promise<R>,
  ): Promise<R> {
    if (!needsEyes(target)) return act(target, limitMs)
    const until = performance.now() + limitMs
    const one = await this.seen(target, limitMs)
    const found = await act(one, Math.max(500, until - performance.now()))
    return found && one.spot ? { ...found, way: one.spot.way, box: one.spot.box, sure: one.spot.sure } : found
  }

  /** Waits until the target is there once. @throws {DriverFault} target */
  async seen(target: Target, limitMs: number): Promise<Target> {
    if (!needsEyes(target)) return target
    const until = performance.now() + limitMs
    for (;;) {
      // Reading takes long on a busy machine: what came meanwhile was there in time, and is looked at, too.
      const begun = performance.now()
      if (waysInPage(target).length > 0) {
        const inPage = withoutEyes(target)
        if ((await this.driver.look(inPage)).count === 1) return inPage
      }
      const spots = await this.spots(target)
      if (spots.length === 1) return spots[0]!
      if (begun >= until) throw notOne(target, spots.length, spots.map(placeOf))
      await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS))
    }
  }

  /** As it is now. Several of them are counted, and not looked at. */
  async look(target: Target): Promise<Look> {
    if (!needsEyes(target)) return this.driver.look(target)
    if (waysInPage(target).length > 0) {
      const seen = await this.driver.look(withoutEyes(target))
      if (seen.count === 1) return seen
    }
    const spots = await this.spots(target)
    if (spots.length === 0) return NOT_SEEN
    if (spots.length > 1)
      return {
        count: spots.length,
        text: '',
        value: '',
        states: ['visible'],
        found: { way: spots[0]!.spot!.way },
      }
    const { box, sure, text, way } = spots[0]!.spot!
    const seen = await this.driver.look(spots[0]!)
    // What is drawn, and not written, has no text of its own.
    return {
      ...seen,
      count: 1,
      text: seen.text || text,
      states: seen.states.includes('visible') ? seen.states : ['visible'],
      found: { way, box, sure },
    }
  }

  /** A point for each place where it is seen, in the order of reading; of those the one that is wanted. */
  async spots(target: Target): Promise<Target[]> {
    const unable = (['within', 'beside', 'under'] as const).find((place) => target[place] !== undefined)
    if (unable)
      throw new DriverFault(
        'script',
        `${describeTarget(target)}: what is seen on the screen cannot be told by what it is ${unable}; ` +
          'say which by its number',
      )
    const found = await this.find(target)
    const inOrder = found.toSorted((a, b) => (Math.abs(a.y - b.y) > a.h / 2 ? a.y - b.y : a.x - b.x))
    const { number } = target
    const wanted =
      number === undefined ? inOrder : [inOrder.at(number > 0 ? number - 1 : number)].filter((one) => !!one)
    return wanted.map(({ x, y, w, h, ...seen }) => ({
      spot: { ...seen, x: x + w / 2, y: y + h / 2, box: { x, y, w, h } },
    }))
  }

  /** By the first way that finds any. */
  private async find(target: Target): Promise<Seen[]> {
    for (const way of SCREEN_WAYS) {
      const wanted = target[way]
      if (wanted === undefined) continue
      const seen = await this.seenBy(way, wanted)
      if (seen.length > 0) return seen
    }
    return []
  }

  async linesIn(part: Box): Promise<string[]> {
    const { shot, last } = await this.screen()
    const { words, width } = await (last.words ??= this.eyes.read(shot.bytes))
    return linesIn(words, inPage(part, width / shot.width))
  }

  private async screen(): Promise<{ shot: ScreenShot; last: LastScreen }> {
    const shot = await this.shot()
    const isKnown = this.last && isSame(this.last.picture, shot.bytes)
    const last: LastScreen = isKnown ? this.last! : { picture: shot.bytes, patches: new Map() }
    this.last = last
    return { shot, last }
  }

  private async seenBy(way: SeenWay, wanted: string): Promise<Seen[]> {
    const { shot, last } = await this.screen()
    if (way === 'words') {
      const { words, width } = await (last.words ??= this.eyes.read(shot.bytes))
      return findText(words, wanted).map((found) => ({ ...inPage(found, shot.width / width), way }))
    }
    const seen = last.patches.get(wanted) ?? this.patch(shot, wanted)
    last.patches.set(wanted, seen)
    return seen
  }

  /** A page that is just going elsewhere has no picture for a moment. @throws {DriverFault} */
  private async shot(): Promise<ScreenShot> {
    const until = performance.now() + SHOT_MS
    for (;;) {
      const shot = await this.driver.screen(true)
      if (shot) return shot
      if (performance.now() >= until) break
      await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS))
    }
    throw new DriverFault('page', 'there is no picture of the screen on which it could be looked for')
  }

  private async patch(shot: ScreenShot, name: string): Promise<Seen[]> {
    const patch = this.pictures[name]
    if (patch === undefined) throw new DriverFault('script', `there is no picture “${name}”`)
    const { places, width } = await this.eyes.find(shot.bytes, Buffer.from(patch, 'base64'))
    const best = places[0]?.score ?? 0
    const alike = places.filter(({ score }) => score > best - AS_GOOD)
    return alike.map(({ score, scale: _, ...box }) => ({
      ...inPage(box, shot.width / width),
      way: 'picture',
      sure: score,
      text: '',
    }))
  }
}

/** From pixels of a picture to CSS pixels, or back. */
const inPage = <B extends Box>(box: B, scale: number): B => ({
  ...box,
  x: Math.round(box.x * scale),
  y: Math.round(box.y * scale),
  w: Math.round(box.w * scale),
  h: Math.round(box.h * scale),
})

function withoutEyes(target: Target): Target {
  const { words: _words, picture: _picture, ...inPage } = target
  return inPage
}

const placeOf = ({ spot }: Target): string =>
  `${spot!.text && `“${spot!.text}” `}at ${Math.round(spot!.x)}, ${Math.round(spot!.y)}`

const isSame = (a: Uint8Array, b: Uint8Array) => Buffer.compare(a, b) === 0
