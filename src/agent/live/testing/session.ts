/** A live attempt on a page of words, and a person who steers it, for tests. */
import type { LiveOrder, LiveWord } from '@/core/live'
import { until } from '../../driver/testing/patience'
import type { LiveBrowser, LiveListeners, Seen } from '../../driver/live'
import type { BrowserDriver } from '../../driver/port'
import { attempt, seen } from '../../interpreter/testing/scripted'
import type { Step } from '@/core/model'
import type { LiveChannel } from '../channel'

export const click = (text: string): Step => ({ verb: 'click', on: { text } })

/** A live attempt on a page of words. @param script what the person does; each step waits for what it says */
export async function session(
  script: (person: Person) => Promise<void>,
  page = { Go: seen(''), Pay: seen('') },
  secrets: Record<string, string> = {},
  driver: Partial<BrowserDriver> = {},
) {
  const said: LiveWord[] = []
  const did: string[] = []
  let listeners: LiveListeners | undefined
  const browser: LiveBrowser = {
    input: (order) => {
      did.push(order.do)
      // a page that stops
      return order.do === 'wheel' ? new Promise(() => {}) : Promise.resolve()
    },
    give: async (files) => files.length > 0,
    choose: async (values) => void did.push(`choose ${values.join(' ')}`),
    factsAt: async () => ({ tag: 'p', counts: {}, value: 'the word is low-tide' }),
    shownWindow: async () => 0,
    follow: async () => {},
    close: async () => void did.push('left'),
  }
  const channel: LiveChannel = {
    say: (word) => void said.push(word),
    frame: () => {},
    onOrder: undefined,
    onOpen: undefined,
    close: () => void did.push('closed'),
  }
  const person: Person = {
    order: (order) => channel.onOrder!(order),
    words: () => said,
    did: () => did,
    isIdle: () => until(async () => said.findLast((word) => word.say === 'state')?.working === false),
    does: (event) => listeners!.seen(event),
    isAsked: (text) => listeners!.dialog(text, 'dismiss'),
    opens: (words) => listeners!.ask({ kind: 'prompt', words, suggested: '2' }),
    recorded: async (count) => {
      const newest = () => said.findLast((word) => word.say === 'recorded')
      while (newest()?.steps.length !== count) await new Promise((resolve) => setTimeout(resolve, 5))
    },
    said: async (what) => {
      for (;;) {
        const found = said.find(what)
        if (found) return found
        await new Promise((resolve) => setTimeout(resolve, 5))
      }
    },
  }
  const running = attempt([click('Never')], page, {
    driver: {
      ...driver,
      live: async (given) => {
        listeners = given
        return browser
      },
    },
    live: () => channel,
    work: { secrets },
  })
  await person.said(({ say }) => say === 'state')
  await script(person)
  return { ...(await running), said, did }
}
export type Person = {
  order(order: LiveOrder): void
  /** All that was said, and done, so far. */
  words(): LiveWord[]
  did(): string[]
  /** Waits until no steps go on. */
  isIdle(): Promise<void>
  does(event: Seen): void
  isAsked(words: string): void
  /** A dialog of the browser. @returns how it is answered */
  opens(words: string): ReturnType<LiveListeners['ask']>
  said(what: (word: LiveWord) => boolean): Promise<LiveWord>
  /** Waits until so many steps are told as recorded. */
  recorded(count: number): Promise<void>
}
