/** Short pages of help, in Markdown: of views, of verbs, of what is met in several places. */
import type { Verb } from '../model'
import { VERB_NAMES } from '../model/verbs'
import { FIELD_PAGES } from './fields'
import { FORM_PAGES } from './form-fields'
import { TOPIC_HELP, VIEW_HELP, type HelpPage } from './pages'
import { VERB_HELP } from './verbs'

export { helpOfField } from './fields'
export type { HelpPage } from './pages'

/** The help of a view, by its page as `VIEW_HELP` names it. */
export const helpOfView = (page: string): HelpPage | undefined => VIEW_HELP[page]
/** Views that have a page of help. */
export const VIEWS_WITH_HELP: readonly string[] = Object.keys(VIEW_HELP)

/** The sentences of a verb; absent: it is none. */
export const helpOfVerb = (word: string): { text: string; example: string } | undefined =>
  Object.hasOwn(VERB_HELP, word) ? VERB_HELP[word as Verb] : undefined

const verbPage = (verb: Verb): HelpPage => ({
  key: `step-${verb}`,
  title: `Step: ${verb}`,
  text: `${VERB_HELP[verb].text}\n\n\`\`\`\n${VERB_HELP[verb].example}\n\`\`\``,
})

export const HELP_GROUPS: readonly { title: string; pages: readonly HelpPage[] }[] = [
  { title: 'Views', pages: Object.values(VIEW_HELP) },
  { title: 'What is met in several places', pages: TOPIC_HELP },
  { title: 'Steps', pages: VERB_NAMES.map(verbPage) },
  { title: 'Fields of forms', pages: FORM_PAGES },
  { title: 'Fields of files', pages: FIELD_PAGES },
]
/** All pages: views, topics, verbs, fields. */
export const HELP_PAGES: readonly HelpPage[] = HELP_GROUPS.flatMap(({ pages }) => pages)

/** The first sentence of a page, without marks of Markdown. */
export function helpSummary({ text }: HelpPage): string {
  const plain = text
    .replace(/^[-#\s]+/, '')
    .replace(/[*`]/g, '')
    .replace(/\s+/g, ' ')
  return plain.split(/(?<=[.:])\s/, 1)[0]!.replace(/:$/, '')
}

/** Shorter ones stand in every page. */
const WORD_LEAST = 3
const wordsOf = (text: string) => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? []

/** Pages of which a word begins with each of these, in the title or the text; those with them in the title
 * first. */
export function findHelp(words: string): HelpPage[] {
  const wanted = wordsOf(words)
  if (wanted.length === 0 || wanted.every((word) => word.length < WORD_LEAST)) return []
  const has = (text: string) => {
    const there = wordsOf(text)
    return wanted.every((word) => there.some((one) => one.startsWith(word)))
  }
  const inTitle = HELP_PAGES.filter(({ title }) => has(title))
  const inText = HELP_PAGES.filter((page) => !inTitle.includes(page) && has(`${page.title} ${page.text}`))
  return [...inTitle, ...inText]
}
