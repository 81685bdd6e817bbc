import { endBrowser, newMark } from '../browser-process'
import type { Engine } from '../browsers'
import { openWebKit, webkitMissing } from './webkit'

/** A browser for each attempt: what WebKit's own driver starts lasts for one session. */
export const webkit: Engine = {
  name: 'WebKit',
  missing: webkitMissing,
  browsers: () => ({
    async open(_seat, environment, pace, films) {
      const mark = newMark()
      const opened = await openWebKit(environment, pace, films, mark)
      return { ...opened, mark, end: () => endBrowser(mark) }
    },
    close: async () => {},
  }),
}
