/** The part of the conformance suite that is about what is beside the page: lists, files, windows,
 * dialogs. */
import type { Target } from '@/core/model'
import { DriverFault, POPUPS_MOST, type BrowserDriver, type LogEntry } from '../port'
import type { Feature } from './features'
import { PATIENT_MS, SHORT_MS, until } from './patience'
import { partOf, PICTURES } from './seen'

export type Around = {
  /** A test of a feature, where this driver has it. */
  of(feature: Feature, what: string, carryOut: () => Promise<void>): void
  /** Opens one of the pages. */
  at(path: string): Promise<void>
  text(testId: string): Promise<string>
  driver(): BrowserDriver
  /** Another browser of the same engine, to be closed. */
  another(): Promise<BrowserDriver>
  /** Whether pages can store something: scripts run. */
  stores: boolean
}

export function conformBeyond({ of, at, text, driver, another, stores }: Around): void {
  /** What a page says of the conditions it runs under, once it has asked for them. */
  const told = async (condition: string) => {
    await at('/conditions')
    await until(async () => (await text(condition)) !== '')
    return text(condition)
  }
  of('zone', 'is in the time zone of the environment', async () =>
    expect(await told('zone')).toBe('Pacific/Auckland'),
  )
  of('colours', 'asks for the colours of the environment', async () =>
    expect(await told('colours')).toBe('dark'),
  )
  of('location', 'tells pages where it is', async () => expect(await told('location')).toBe('57.25 -6.5'))
  of('camera', 'gives pages a camera', async () => expect(await told('camera')).toBe('video, audio'))
  of('words', 'clicks where words are seen, tells several, and says when they are not there', async () => {
    await at('/drawn')
    const seen = await driver().click({ words: 'choose cabin' }, PATIENT_MS)
    expect(seen).toMatchObject({ way: 'words', sure: expect.any(Number), box: expect.any(Object) })
    expect(Math.abs(seen.box!.x - 48)).toBeLessThan(8)
    await until(async () => (await text('said')) === 'place 0')
    expect(await driver().look({ words: 'Upper deck' })).toMatchObject({ count: 2 })
    await driver().click({ words: 'Upper deck', number: 2 }, PATIENT_MS)
    await until(async () => (await text('said')) === 'place 2')
    expect(await driver().look({ words: 'Fares are per car' })).toMatchObject({
      count: 1,
      text: 'Fares are per car',
    })
    await expect(driver().click({ words: 'Lower deck' }, SHORT_MS)).rejects.toThrow('is not on the page')
    await expect(driver().click({ words: 'Upper deck' }, SHORT_MS)).rejects.toThrow('2 elements match')
    // the first way that finds one is taken, so nothing is read
    expect(await driver().click({ css: 'canvas', words: 'Upper deck' }, PATIENT_MS)).toMatchObject({
      way: 'css',
    })
  })
  of('picture', 'clicks where a picture is seen, and says when it is not there', async () => {
    await at('/drawn')
    const shot = (await driver().screen())!
    PICTURES.cabin = await partOf(shot, { x: 24, y: 24, w: 180, h: 60 })
    const seen = await driver().click({ picture: 'cabin' }, PATIENT_MS)
    expect(seen).toMatchObject({ way: 'picture', sure: expect.any(Number) })
    expect(Math.abs(seen.box!.x - 24) + Math.abs(seen.box!.y - 24)).toBeLessThan(6)
    await until(async () => (await text('said')) === 'place 0')
    await at('/second')
    await expect(driver().click({ picture: 'cabin' }, SHORT_MS)).rejects.toThrow('is not on the page')
  })
  of(
    'exact',
    'takes a part of the screen twice the same, tells what moved and what is left out',
    async () => {
      await at('/deck')
      const look = { of: { testId: 'deck' }, ignore: [{ testId: 'clock' }] }
      const first = (await driver().compareScreen!(look))!
      expect(first.difference).toBeUndefined()
      const accepted = {
        hash: '',
        png: Buffer.from(first.png).toString('base64'),
        ignore: [],
        most: 0,
      }
      await at('/deck?late')
      const same = (await driver().compareScreen!({ ...look, accepted }))!
      expect(same).toMatchObject({ width: first.width, height: first.height, difference: { same: true } })
      // whoever watches meanwhile changes nothing
      for (let i = 0; i < 8; i++) {
        const [watched] = await Promise.all([
          driver().compareScreen!({ ...look, accepted }),
          driver().peek?.(),
          driver().screen(),
        ])
        expect(watched!.difference!.regions).toEqual([])
      }
      await at('/deck?moved')
      const moved = (await driver().compareScreen!({ ...look, accepted }))!
      expect(moved.difference).toMatchObject({
        same: false,
        regions: [{ kind: 'moved', dx: 0, dy: 12, w: 60, h: 30 }],
      })
      // what is not told to be left out differs by itself
      await at('/deck?late')
      const clock = (await driver().compareScreen!({ ...look, ignore: [], accepted }))!
      expect(clock.difference!.same).toBe(false)
      await expect(driver().compareScreen!({ of: { testId: 'none' }, ignore: [] })).rejects.toThrow(
        'is not on',
      )
    },
  )
  of('identity', 'keeps who is signed in, and goes on as them', async () => {
    await at('/sign-in')
    const kept = await driver().identity.keep()
    expect(kept.cookies).toContainEqual(
      expect.objectContaining({ name: 'clerk', value: 'isla', httpOnly: stores, path: '/' }),
    )
    const next = await another()
    const { origin } = new URL(await driver().url())
    await next.open(`${origin}/members`, PATIENT_MS)
    expect((await next.look({ testId: 'member' })).text).toContain('nobody')
    await next.identity.take(kept, PATIENT_MS)
    await next.open(`${origin}/members`, PATIENT_MS)
    await until(async () => (await next.look({ testId: 'member' })).text.includes('isla'))
    if (stores)
      await until(async () => (await next.look({ testId: 'stored' })).text.trim() === 'local 3, session 4')
    await next.close()
  })
  of('identity', 'is signed in nowhere where no site is open', async () => {
    const next = await another()
    await expect(next.identity.keep()).rejects.toMatchObject({
      kind: 'page',
      message: 'no site is open, so nobody can be signed in to one',
    })
    await next.close()
  })
  of('lists', 'chooses several of a list', async () => {
    await at('/ports')
    await driver().choose({ label: 'Ports' }, 'Tolva', PATIENT_MS, ['Ardmore'])
    await driver().click({ role: 'button', name: 'Send' }, PATIENT_MS)
    expect(await text('got')).toContain('ports=Tolva ports=A')
    await at('/')
    await expect(driver().choose({ label: 'Port' }, 'Tolva', SHORT_MS, ['Skerrow'])).rejects.toMatchObject({
      message: 'this list takes one choice only',
    })
  })
  of('files', 'gives several files at once', async () => {
    await at('/ports')
    const files = ['a.csv', 'b.csv'].map((name) => ({ name, text: name }))
    await driver().upload({ label: 'Lists' }, files, PATIENT_MS)
    await driver().click({ role: 'button', name: 'Send' }, PATIENT_MS)
    expect(await text('got')).toContain('lists=a.csv lists=b.csv')
  })
  of('dropping', 'drops files on a part of the page that takes them, and on no other', async () => {
    await at('/dock')
    const files = ['a.csv', 'b.csv'].map((name) => ({ name, text: `text of ${name}` }))
    await driver().upload({ testId: 'dock' }, files, PATIENT_MS)
    await until(async () => (await text('got')) !== '')
    expect(await text('got')).toBe('a.csv: text of a.csv; b.csv: text of b.csv')
    const picture = { name: 'dot.gif', text: 'R0lGODlhAQABAAAAACw=', encoding: 'base64' as const }
    await driver().upload({ testId: 'dock' }, [picture], PATIENT_MS)
    await until(async () => (await text('got')).startsWith('dot.gif'))
    expect(await text('got')).toMatch(/^dot\.gif: GIF89a/)
    await expect(driver().upload({ role: 'heading' }, files, SHORT_MS)).rejects.toMatchObject({
      kind: 'target',
      message: expect.stringMatching(
        /neither a field for files nor takes files that are dropped on it$/,
      ) as string,
    })
  })
  of('scrolling', 'scrolls a part of the page, and says when nothing moves any more', async () => {
    await at('/list')
    const list: Target = { role: 'list' }
    expect(await driver().scrollBy(100, list, PATIENT_MS)).toBe(true)
    expect(await driver().scrollBy(-500, list, PATIENT_MS)).toBe(true)
    expect(await driver().scrollBy(-500, list, PATIENT_MS)).toBe(false)
    expect(await driver().scrollBy(300, undefined, PATIENT_MS)).toBe(false)
    expect(await driver().scrollBy(undefined, list, PATIENT_MS)).toBe(true)
  })
  of('dialogs', 'keeps what dialogs of the browser said', async () => {
    await at('/asks-twice')
    await driver().click({ role: 'button', name: 'Ask' }, PATIENT_MS)
    await until(async () => (await driver().dialogs()).includes('Take the next one?'))
    expect(await driver().dialogs()).toEqual(
      expect.arrayContaining(['The 9:40 is full', 'Take the next one?']),
    )
  })
  of('pointer', 'hovers', async () => {
    await at('/more')
    expect(await driver().hover({ text: 'Boarding card' }, PATIENT_MS)).toMatchObject({ way: 'text' })
  })
  of('clipboard', 'copies from one field and pastes into another', async () => {
    await at('/copy')
    for (const key of ['Control+a', 'Control+c']) await driver().press(key, { label: 'From' }, PATIENT_MS)
    await driver().press('Control+v', { label: 'To' }, PATIENT_MS)
    await until(async () => (await driver().look({ label: 'To' })).value !== '')
    expect((await driver().look({ label: 'To' })).value).toBe('FSF-77')
  })
  /** What a page says came of a request of its own. */
  const asked = async () => {
    await driver().click({ role: 'button', name: 'Ask' }, PATIENT_MS)
    await until(async () => (await text('answer')) !== 'asked')
    return text('answer')
  }
  of('network', 'answers requests of a page, and takes that back', async () => {
    await at('/requests')
    await driver().network!({ does: 'answer', requests: '*/second', status: 418, body: 'full' })
    expect(await asked()).toBe('418 full')
    await driver().network!({ does: 'usual' })
    expect(await asked()).toContain('200')
  })
  of('network', 'fails and delays requests by their address, and is away', async () => {
    await at('/requests')
    await driver().network!({ does: 'fail', requests: '*/second' })
    expect(await asked()).toBe('failed')
    await driver().network!({ does: 'usual' })
    await driver().network!({ does: 'delay', requests: '*/second', delayMs: 300 })
    expect(Number(/in (\d+)/.exec(await asked())?.[1])).toBeGreaterThanOrEqual(290)
    await driver().network!({ does: 'offline' })
    expect(await asked()).toBe('failed')
    await driver().network!({ does: 'usual' })
  })
  of('dragging', 'drags with the pointer: a list that follows it is in another order', async () => {
    await at('/order')
    expect(await driver().drag({ text: 'Skerrow' }, { text: 'Ardmore' }, PATIENT_MS)).toMatchObject({
      way: 'text',
    })
    expect(await text('order')).toBe('Tolva Ardmore Skerrow')
  })
  of('dragging', 'drags what the page says is draggable, onto what takes it', async () => {
    await at('/hold')
    await driver().drag({ text: 'Van' }, { testId: 'hold' }, PATIENT_MS)
    expect(await text('hold')).toBe('van')
  })
  of('form', 'scrolls to what is there, reads titles and attributes', async () => {
    await at('/more')
    await driver().scrollTo({ testId: 'foot' }, PATIENT_MS)
    await driver().scrollBy(-400, undefined, PATIENT_MS)
    expect(await driver().title()).toBe('t')
    expect(await driver().attribute({ text: 'Boarding card' }, 'title')).toBe('Your card')
    expect(await driver().attribute({ text: 'Boarding card' }, 'gone')).toBeUndefined()
  })
  of('downloads', 'takes files, and gives one', async () => {
    await at('/more')
    await driver().click({ text: 'Boarding card' }, PATIENT_MS)
    await until(async () => (await driver().downloads()).length > 0)
    expect(await driver().downloads()).toEqual(['boarding-card.txt'])
    const one = driver().downloaded
    if (one) {
      expect(Buffer.from(await one('boarding-card.txt')).toString()).toBe('FS-1')
      for (const name of ['none.txt', '../boarding-card.txt', ''])
        await expect(one(name)).rejects.toMatchObject({ kind: 'page' })
    }
    await driver().upload({ label: 'File' }, [{ name: 'list.csv', text: 'a,b' }], PATIENT_MS)
    await driver().click({ role: 'button', name: 'Send' }, PATIENT_MS)
    expect(await text('got')).toBe('file=list.csv pin=')
  })
  of('downloads', 'opens the next page after one that did not come, and after a file was taken', async () => {
    await expect(driver().open('http://127.0.0.1:1/', SHORT_MS)).rejects.toBeInstanceOf(DriverFault)
    await at('/more')
    const before = (await driver().downloads()).length
    await driver().click({ text: 'Boarding card' }, PATIENT_MS)
    await until(async () => (await driver().downloads()).length > before)
    await at('/second')
    expect((await driver().look({ role: 'heading', name: 'Second' })).count).toBe(1)
  })
  of('form', 'files go into fields for files only', async () => {
    await at('/more')
    await expect(
      driver().upload({ label: 'Pin' }, [{ name: 'list.csv', text: 'a' }], SHORT_MS),
    ).rejects.toMatchObject({ kind: 'target' })
  })
  of('windows', 'a page that opens windows without end has few, and the log says so', async () => {
    await at('/opens')
    await driver().click({ role: 'button', name: 'Open' }, PATIENT_MS)
    const log: LogEntry[] = []
    const isTold = (entry: LogEntry) => entry.type === 'console' && entry.text.includes('a window was')
    await until(async () => {
      log.push(...driver().takeLog())
      return log.some(isTold) && (await driver().windows()).length <= 1 + POPUPS_MOST
    })
    expect(log.some(isTold)).toBe(true)
    expect((await driver().windows()).length).toBeLessThanOrEqual(1 + POPUPS_MOST)
    expect((await driver().look({ role: 'heading', name: 'Opens' })).count).toBe(1)
  })
  of('dialogs', 'answers the next dialog of the browser', async () => {
    await at('/asks')
    await driver().answerDialog(true, 'Tolva')
    await driver().click({ role: 'button', name: 'Ask' }, PATIENT_MS)
    expect(await text('said')).toBe('Tolva')
    expect(await driver().openDialog()).toBeUndefined()
  })
  of('video', 'records one', async () => {
    await at('/')
    await driver().click({ text: 'Second page' }, PATIENT_MS)
    const video = await driver().stopVideo()
    expect(Buffer.from(video!.bytes.slice(0, 4)).toString('hex')).toBe('1a45dfa3') // EBML: WebM
  })
}
