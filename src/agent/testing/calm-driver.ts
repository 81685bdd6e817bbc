import type { BrowserDriver, Identity } from '../driver/port'

export const NOBODY: Identity = {
  keep: async () => ({
    cookies: [],
    origin: 'http://calm.invalid',
    stored: { local: {}, session: {} },
  }),
  take: async () => {},
}

/** A driver for tests on which all goes well, and of which nothing is seen.
 * @param own what a test wants otherwise */
export function calmDriver(own: Partial<BrowserDriver> = {}): BrowserDriver {
  const found = async () => ({ way: 'text' })
  return {
    facts: {},
    open: async () => {},
    go: async () => {},
    click: found,
    type: async () => ({ way: 'text', masked: false }),
    choose: found,
    press: async () => undefined,
    hover: found,
    drag: found,
    upload: found,
    scrollTo: found,
    scrollBy: async () => false,
    windows: async () => [],
    showWindow: async () => {},
    closeWindow: async () => {},
    answerDialog: async () => {},
    identity: NOBODY,
    conceal: async () => {},
    attribute: async () => undefined,
    look: async () => ({ count: 0, text: '', value: '', states: [] }),
    url: async () => '',
    title: async () => '',
    downloads: async () => [],
    dialogs: async () => [],
    screen: async () => undefined,
    source: async () => '',
    openDialog: async () => undefined,
    takeLog: () => [],
    stopVideo: async () => undefined,
    close: async () => {},
    ...own,
  }
}
