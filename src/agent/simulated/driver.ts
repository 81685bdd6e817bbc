/** The simulated driver: real HTTP requests to the application, without a real browser. */
import {
  describeTarget,
  tidy,
  type ElementState,
  type Target,
  type UploadFile,
  type WayToGo,
} from '@/core/model'
import { randomFrom, type Box, type Random } from '@/core/execution'
import {
  DriverFault,
  type BrowserDriver,
  type Found,
  type Identity,
  type LogEntry,
  type Look,
  type ScreenShot,
} from '../driver/port'
import { notOne } from '../driver/ambiguous'
import { chosenOf } from '../driver/choices'
import { firstStays } from '../driver/going'
import { sourceOfFrames } from '../driver/source'
import { findIn, toggle } from './elements'
import { HIDDEN } from './hidden'
import { identityOf } from './identity'
import { dialogIn, exchangeEntry, formData, framesOf, parsePage, valueOf, Visitor, type Opened } from './page'
import { drawn, numberIn } from './drawing'
import type { Picture } from './pictures'
import type { SimulatedParts } from './parts'
import { profileOf, type Profile } from './profiles'

export class SimulatedDriver implements BrowserDriver {
  readonly facts: Record<string, string>
  private readonly random: Random
  private readonly profile: Profile
  private readonly visitor: Visitor
  readonly identity: Identity
  private log: LogEntry[] = []
  private top: Opened = { document: parsePage('<html><body></body></html>'), url: 'about:blank' }
  private frames: Opened[] = []
  private readonly files: string[] = []
  /** Addresses of the pages it was on, and which of them it is on. */
  private history: string[] = []
  private at = -1
  /** Drawn when the page came; filling fields changes no layout. */
  private arrival: Promise<Picture | undefined> | undefined
  private filled = false
  private readonly concealed: string[] = []

  constructor(private readonly parts: SimulatedParts) {
    const { environment } = parts
    this.random = randomFrom(parts.seed)
    this.profile = profileOf(environment.key)
    this.visitor = new Visitor({
      'user-agent': environment.userAgent ?? 'simulated',
      'accept-language': environment.locale,
    })
    this.identity = identityOf(this.visitor, () => this.top.url)
    this.facts = {
      browser: `${environment.browser} (simulated)`,
      system: `${environment.os} (simulated)`,
      screen: `${environment.width}x${environment.height}`,
      locale: environment.locale,
    }
  }

  async open(url: string, limitMs: number): Promise<void> {
    await this.arrive(this.visit('GET', url, undefined, limitMs))
  }

  async go(where: WayToGo, limitMs: number): Promise<void> {
    const at = where === 'reload' ? this.at : this.at + (where === 'back' ? -1 : 1)
    const url = this.history[at]
    if (url === undefined) throw new DriverFault('page', `there is no page to go ${where} to`)
    this.at = at
    await this.arrive(this.visit('GET', url, undefined, limitMs, false))
  }

  /** Pages without scripts tell no click from another. */
  async click(target: Target, limitMs: number): Promise<Found> {
    const { element, found } = await this.reach(target, limitMs)
    await this.spend(this.profile.actionMs)
    if (this.random() < this.profile.misses && !this.parts.calm) return found
    const box =
      element.closest('label')?.querySelector('input[type=checkbox]') ??
      (element.matches('input[type=checkbox]') ? element : null)
    const link = element.closest('a[href]')
    const form = element.closest('form')
    if (box) {
      this.filled = true
      toggle(box, 'checked', !box.hasAttribute('checked'))
    } else if (link)
      await this.arrive(
        this.visit(
          'GET',
          new URL(link.getAttribute('href')!, this.holderOf(element).url).href,
          undefined,
          limitMs,
        ),
      )
    else if (form && element.matches('button:not([type=button]), input[type=submit]'))
      await this.submit(form, limitMs)
    return found
  }

  async type(
    target: Target,
    text: string,
    limitMs: number,
    hide = false,
  ): Promise<Found & { masked: boolean }> {
    const { element, found } = await this.reach(target, limitMs)
    if (!element.matches('input, textarea'))
      throw new DriverFault('target', `${describeTarget(target)} is not a field to type into`)
    await this.spend(this.profile.actionMs)
    this.filled = true
    element.setAttribute('value', text)
    if (hide) element.setAttribute(HIDDEN, '')
    return { ...found, masked: element.matches('input[type=password]') }
  }

  async choose(
    target: Target,
    option: string,
    limitMs: number,
    also: readonly string[] = [],
  ): Promise<Found> {
    const { element, found } = await this.reach(target, limitMs)
    await this.spend(this.profile.actionMs)
    this.filled = true
    if (element.matches('input[type=checkbox]'))
      toggle(element, 'checked', !['no', 'off', 'false'].includes(option))
    else {
      const items = [...element.querySelectorAll('option')]
      const options = items.map((item) => {
        const label = tidy(item.textContent ?? '')
        return { label, value: item.getAttribute('value') ?? label }
      })
      const chosen = chosenOf({ several: element.hasAttribute('multiple'), options }, [option, ...also])
      for (const [i, item] of items.entries()) toggle(item, 'selected', chosen.includes(options[i]!.value))
    }
    return found
  }

  async press(key: string, target: Target | undefined, limitMs: number): Promise<Found | undefined> {
    const reached = target && (await this.reach(target, limitMs))
    await this.spend(this.profile.actionMs)
    const form = reached?.element.closest('form')
    if (key === 'Enter' && form) await this.submit(form, limitMs)
    return reached?.found
  }

  async hover(target: Target, limitMs: number): Promise<Found> {
    const { found } = await this.reach(target, limitMs)
    await this.spend(this.profile.actionMs)
    return found
  }

  /** Pages without scripts have nothing that can be dragged: both ends have to be there, and that is all. */
  async drag(from: Target, to: Target, limitMs: number): Promise<Found> {
    await this.reach(to, limitMs)
    return this.hover(from, limitMs)
  }

  async upload(target: Target, files: readonly UploadFile[], limitMs: number): Promise<Found> {
    const { element, found } = await this.reach(target, limitMs)
    if (!element.matches('input[type=file]'))
      throw new DriverFault('target', `${describeTarget(target)} is not a field for files`)
    await this.spend(this.profile.actionMs)
    this.filled = true
    element.setAttribute('value', files.map(({ name }) => name).join(', '))
    return found
  }

  scrollTo = (target: Target, limitMs: number) => this.hover(target, limitMs)

  /** Pages without scripts are there as a whole, and nothing is added to them. */
  async scrollBy(_: number | undefined, within: Target | undefined, limitMs: number): Promise<boolean> {
    if (within) await this.reach(within, limitMs)
    await this.spend(this.profile.actionMs)
    return false
  }

  windows = async () => [{ title: await this.title(), url: this.top.url }]
  showWindow = async () => {}
  closeWindow = async () => {
    throw firstStays()
  }

  answerDialog = async () => {} // no scripts, so no dialogs of the browser

  async attribute(target: Target, name: string): Promise<string | undefined> {
    const hits = findIn(this.documents(), target)
    return hits?.elements.length === 1 ? (hits.elements[0]!.getAttribute(name) ?? undefined) : undefined
  }

  async look(target: Target): Promise<Look> {
    const hits = findIn(this.documents(), target)
    const element = hits?.elements[0]
    if (!hits || !element) return { count: 0, text: '', value: '', states: ['hidden'] }
    const states: ElementState[] = [
      'visible',
      element.hasAttribute('disabled') ? 'disabled' : 'enabled',
      element.hasAttribute('checked') ? 'checked' : 'unchecked',
    ]
    const box = hits.elements.length === 1 ? this.boxIn(await this.layout(), element) : undefined
    return {
      count: hits.elements.length,
      text: element.textContent ?? '',
      value: valueOf(element),
      states,
      found: { way: hits.way, ...(box && { box }) },
    }
  }

  url = async () => this.top.url
  title = async () => tidy(this.top.document.querySelector('title')?.textContent ?? '')
  downloads = async () => [...this.files]
  dialogs = async () => []
  source = () =>
    sourceOfFrames(
      [this.top, ...this.frames].map(
        ({ document }) =>
          async () =>
            document.toString(),
      ),
    )
  takeLog = () => this.log.splice(0)
  stopVideo = async () => undefined
  close = async () => {}

  async screen(): Promise<ScreenShot | undefined> {
    if (!this.filled) return (await this.layout())?.shot
    return this.parts.screens === 'arrivals' ? undefined : (await this.draw())?.shot
  }

  exact = async () => (await this.draw())?.shot

  /** As the page came: what is filled in since is not drawn for a glance. */
  peek = async () => (await this.layout())?.shot

  openDialog = async () => dialogIn(this.top.document)

  private documents = () => [this.top, ...this.frames].map(({ document }) => document)
  private holderOf = (element: Element): Opened =>
    [this.top, ...this.frames].find(({ document }) => document === element.ownerDocument) ?? this.top

  /** Finds a target that can be acted on: there once, no dialog over it, nothing else over it. */
  private async reach(target: Target, limitMs: number): Promise<{ element: Element; found: Found }> {
    const hits = findIn(this.documents(), target)
    const element = hits?.elements.length === 1 ? hits.elements[0] : undefined
    const dialog = await this.openDialog()
    const refuse = async (fault: DriverFault): Promise<never> => {
      // nothing changes by itself on a page without scripts, but a browser would have waited
      await this.parts.pace.pause(limitMs)
      throw fault
    }
    if (dialog && !element?.closest('[role=dialog], dialog'))
      return refuse(new DriverFault('dialog', `a dialog “${dialog}” is open over the page`))
    if (!hits) return refuse(notOne(target, 0))
    if (!element) return refuse(notOne(target, hits.elements.length))
    const picture = await this.layout()
    const cover = picture?.covered[this.numberOf(element)]
    if (cover) {
      return refuse(new DriverFault('target', `it is covered: the point belongs to ${cover}`))
    }
    const box = this.boxIn(picture, element)
    return { element, found: { way: hits.way, ...(box && { box }) } }
  }

  private async submit(form: Element, limitMs: number): Promise<void> {
    const holder = this.holderOf(form)
    const action = new URL(form.getAttribute('action') ?? holder.url, holder.url)
    const data = formData(form)
    if ((form.getAttribute('method') ?? 'get').toLowerCase() === 'post')
      await this.arrive(this.visit('POST', action.href, String(data), limitMs))
    else {
      action.search = String(data)
      await this.arrive(this.visit('GET', action.href, undefined, limitMs))
    }
  }

  private async arrive(visit: Promise<number>): Promise<void> {
    const status = await visit
    if (status >= 500) throw new DriverFault('page', `the page answers ${status}`)
  }

  private async visit(
    method: string,
    url: string,
    body: string | undefined,
    limitMs: number,
    isNew = true,
  ): Promise<number> {
    const { pace } = this.parts
    if (this.random() < this.profile.hangs * this.upset) {
      await pace.pause(limitMs)
      throw new DriverFault('page', `the page did not come within ${Math.round(limitMs / 1000)} s`)
    }
    if (this.random() < this.profile.breaks * this.upset)
      throw new DriverFault('page', 'the connection was reset')
    const start = pace.now()
    const answer = await this.visitor.fetch(method, url, body).catch((error: unknown) => {
      throw new DriverFault('page', `the page does not open: ${(error as Error).message}`)
    })
    await this.spend(this.profile.requestMs * answer.exchanges.length)
    for (const exchange of answer.exchanges)
      this.log.push({
        type: 'request',
        atMs: pace.now(),
        ...exchange,
        ms: Math.round((pace.now() - start) / answer.exchanges.length),
      })
    if (answer.status >= 400) this.log.push(exchangeEntry(method, body, answer, pace.now()))
    if (answer.file !== undefined) {
      this.files.push(answer.file)
      return answer.status
    }
    this.top = { document: parsePage(answer.text), url: answer.url }
    if (isNew) this.history = [...this.history.slice(0, ++this.at), answer.url]
    this.arrival = undefined
    this.filled = false
    this.frames = await framesOf(this.visitor, this.top)
    return answer.status
  }

  conceal = async (texts: readonly string[]) => void this.concealed.push(...texts)

  private get upset(): number {
    const factor = this.factor('upset')
    return this.parts.calm && factor <= 1 ? 0 : factor
  }
  private factor = (what: 'slow' | 'upset') =>
    this.parts.faults?.factor(what, this.parts.environment.key) ?? 1
  /** Time as this environment takes it: between 0.7 and 1.6 times the usual. */
  private spend = (ms: number) =>
    this.parts.pace.pause(ms * (0.7 + 0.9 * this.random()) * this.factor('slow'))

  private layout = (): Promise<Picture | undefined> => (this.arrival ??= this.draw())
  private draw = () => drawn(this.parts, this.top, this.frames, this.concealed)
  private numberOf = (element: Element) => numberIn(this.top.document, element)
  private boxIn = (picture: Picture | undefined, element: Element): Box | undefined =>
    picture?.boxes[this.numberOf(element)]
}
