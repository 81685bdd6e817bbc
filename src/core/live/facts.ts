/** What is known of an element that a person pointed at: enough to find it again, and to propose checks. */
import type { Box } from '../execution'
import type { Target } from '../model'

/** Ways of a target that an element was tried by. */
export const FACT_WAYS = ['testId', 'role', 'label', 'placeholder', 'text', 'css'] as const
export type FactWay = (typeof FACT_WAYS)[number]

export type ElementFacts = Partial<Record<FactWay, string>> & {
  /** Of its element, in small letters. */
  tag: string
  /** Of a field: text, checkbox, … */
  type?: string
  /** Accessible name; belongs to `role`. */
  name?: string
  /** How many elements of its document each way finds. */
  counts: Partial<Record<FactWay, number>>
  /** Ways that found several on a screen which this page showed before. */
  repeated?: FactWay[]
  /** Which of those that `role` and `name` find, from 1. */
  place?: number
  /** Text a person sees, or the value of a field. */
  value?: string
  checked?: boolean
  /** Address a link leads to, as it is written. */
  href?: string
  /** It hides what is typed: its value is not told. */
  secret?: boolean
  /** It offers what was typed so far, as a list under it. */
  suggests?: boolean
  /** Of what was picked: it takes no input. */
  disabled?: boolean
  /** Of what was picked: attributes that say how it is. */
  attributes?: Record<string, string>
  /** Of what was picked: of what kind it is one, and how many of it the page shows. */
  alike?: { role: string; count: number }
  /** Of what was picked: it is seen only while the pointer is on this. */
  shownBy?: Target
  /** Lines that were read on a part of the screen; the element is the one around it, if any is known. */
  lines?: string[]
  /** Absent where it cannot be told. */
  box?: Box
}

const TEXT_TYPES = new Set([
  'text',
  'search',
  'email',
  'url',
  'tel',
  'number',
  'password',
  'date',
  'time',
  'month',
  'week',
  'datetime-local',
])

/** Whether text is typed into it. */
export const takesText = ({ tag, type = 'text' }: Pick<ElementFacts, 'tag' | 'type'>): boolean =>
  tag === 'textarea' || (tag === 'input' && TEXT_TYPES.has(type))
export const isTick = ({ tag, type }: Pick<ElementFacts, 'tag' | 'type'>): boolean =>
  tag === 'input' && (type === 'checkbox' || type === 'radio')

/** Whether both are of one element, as far as can be told from outside. */
export const sameElement = (a: ElementFacts, b: ElementFacts): boolean =>
  a.tag === b.tag &&
  a.type === b.type &&
  a.place === b.place &&
  FACT_WAYS.every((way) => way === 'text' || a[way] === b[way])
