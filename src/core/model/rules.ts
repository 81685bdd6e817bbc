/** Suites by rule: "smoke and not slow", "priority >= high", "application = gate", "requires FSF-R12". */
import { PRIORITIES, type Priority, type TestCase } from './types'

type Comparison = '=' | '!=' | '<' | '<=' | '>' | '>='
export type Rule =
  | { is: 'tag' | 'requires' | 'key'; value: string }
  | { is: 'application'; equal: boolean; value: string }
  | { is: 'priority'; comparison: Comparison; value: Priority }
  | { is: 'not'; of: Rule }
  | { is: 'and' | 'or'; left: Rule; right: Rule }

/** `at` counts characters from 0. */
export type RuleProblem = { message: string; at: number }
type Token = { text: string; at: number; kind: 'word' | 'quoted' | 'sign' }

const TOKEN = /\s*(?:"([^"]*)"|(!=|<=|>=|[()=<>])|([^\s()=<>!"]+))/y
/** Deeper expressions are mistakes, and would cost the stack. */
const DEPTH_MOST = 100

/** Reads an expression. Words are tags; `not` binds closest, then `and`, then `or`; a tag that is called like
 * one of our words stands in quotes. */
export function parseRule(text: string): Rule | RuleProblem {
  const tokens: Token[] = []
  TOKEN.lastIndex = 0
  while (text.slice(TOKEN.lastIndex).trim() !== '') {
    const from = TOKEN.lastIndex
    const found = TOKEN.exec(text)
    if (!found)
      return {
        message: `“${text.slice(from).trim()[0]}” is not understood here`,
        at: from + text.slice(from).search(/\S/),
      }
    const value = found[1] ?? found[2] ?? found[3]!
    tokens.push({
      text: value,
      at: from + found[0].search(/\S/),
      kind: kindOf(found),
    })
  }
  if (tokens.length === 0) return { message: 'the rule is empty; write a tag, for example smoke', at: 0 }
  try {
    return new Reader(tokens, text.length).whole()
  } catch (error) {
    if (error instanceof Misread) return { message: error.message, at: error.at }
    throw error
  }
}

function kindOf([, quoted, sign]: RegExpExecArray): Token['kind'] {
  if (quoted !== undefined) return 'quoted'
  return sign !== undefined ? 'sign' : 'word'
}

class Misread extends Error {
  constructor(
    message: string,
    readonly at: number,
  ) {
    super(message)
  }
}

class Reader {
  private next = 0
  private depth = 0
  constructor(
    private readonly tokens: Token[],
    private readonly end: number,
  ) {}

  whole(): Rule {
    const rule = this.or()
    const rest = this.tokens[this.next]
    if (rest) throw new Misread(`“${rest.text}” is too much; “and” or “or” joins two parts`, rest.at)
    return rule
  }

  private or(): Rule {
    let left = this.and()
    while (this.take('or')) left = { is: 'or', left, right: this.and() }
    return left
  }
  private and(): Rule {
    let left = this.not()
    while (this.take('and')) left = { is: 'and', left, right: this.not() }
    return left
  }
  private not(): Rule {
    if (++this.depth > DEPTH_MOST) throw new Misread('the rule is nested too deep', this.place())
    const rule = this.unary()
    this.depth--
    return rule
  }
  private unary(): Rule {
    if (this.take('not')) return { is: 'not', of: this.not() }
    return this.take('(') ? this.closed(this.or()) : this.term()
  }
  private closed(rule: Rule): Rule {
    if (!this.take(')')) throw new Misread('a bracket is opened and not closed', this.place())
    return rule
  }

  private term(): Rule {
    const token = this.word('a tag, priority, application, requires or not')
    if (token.kind === 'quoted') return { is: 'tag', value: token.text }
    const sign = this.sign()
    if (token.text === 'requires') {
      if (sign !== undefined && sign !== '=' && sign !== '!=')
        throw new Misread('requires is compared with = or !=, or stands before an id', this.place())
      const rule: Rule = { is: 'requires', value: this.word('a requirement id').text }
      return sign === '!=' ? { is: 'not', of: rule } : rule
    }
    if (token.text === 'priority') {
      if (!sign) throw new Misread('priority is compared: priority >= high', this.place())
      const value = this.word(`one of ${Object.keys(PRIORITIES).join(', ')}`)
      if (!Object.hasOwn(PRIORITIES, value.text))
        throw new Misread(
          `“${value.text}” is no priority; there is ${Object.keys(PRIORITIES).join(', ')}`,
          value.at,
        )
      return { is: 'priority', comparison: sign, value: value.text as Priority }
    }
    if (token.text === 'application' || token.text === 'key' || token.text === 'tag') {
      if (sign !== '=' && sign !== '!=')
        throw new Misread(`${token.text} is compared with = or !=`, this.place())
      const { text: value } = this.word('a name')
      if (token.text === 'application') return { is: 'application', equal: sign === '=', value }
      const rule: Rule = { is: token.text, value }
      return sign === '=' ? rule : { is: 'not', of: rule }
    }
    if (sign)
      throw new Misread(
        `“${token.text}” cannot be compared; only priority, application, requires, key and tag can`,
        token.at,
      )
    return { is: 'tag', value: token.text }
  }

  private sign(): Comparison | undefined {
    const token = this.tokens[this.next]
    if (token?.kind !== 'sign' || token.text === '(' || token.text === ')') return undefined
    this.next++
    return token.text as Comparison
  }
  private word(expected: string): Token {
    const token = this.tokens[this.next]
    const reserved = token?.kind === 'word' && ['and', 'or', 'not'].includes(token.text)
    if (!token || token.kind === 'sign' || reserved)
      throw new Misread(`expected ${expected}${token ? `, there is “${token.text}”` : ''}`, this.place())
    this.next++
    return token
  }
  private take(text: string): boolean {
    const token = this.tokens[this.next]
    if (!token || token.kind === 'quoted' || token.text !== text) return false
    this.next++
    return true
  }
  private place = () => this.tokens[this.next]?.at ?? this.end
}

/** What a rule looks at. */
export type RuleFacts = Pick<TestCase, 'key' | 'tags' | 'priority' | 'requires'> & {
  applications: readonly string[]
}

const COMPARE: Record<Comparison, (a: number, b: number) => boolean> = {
  '=': (a, b) => a === b,
  '!=': (a, b) => a !== b,
  '<': (a, b) => a < b,
  '<=': (a, b) => a <= b,
  '>': (a, b) => a > b,
  '>=': (a, b) => a >= b,
}

export function ruleHolds(rule: Rule, facts: RuleFacts): boolean {
  switch (rule.is) {
    case 'tag':
      return facts.tags.includes(rule.value)
    case 'requires':
      return facts.requires.includes(rule.value)
    case 'key':
      return facts.key === rule.value
    case 'application':
      return facts.applications.includes(rule.value) === rule.equal
    case 'priority':
      return COMPARE[rule.comparison](PRIORITIES[facts.priority], PRIORITIES[rule.value])
    case 'not':
      return !ruleHolds(rule.of, facts)
    case 'and':
      return ruleHolds(rule.left, facts) && ruleHolds(rule.right, facts)
    case 'or':
      return ruleHolds(rule.left, facts) || ruleHolds(rule.right, facts)
  }
}

/** Names in a rule that no case has, each as the end of a sentence: mostly they are misspelt. Behind a `not`
 * they are not: a rule may keep out what there is none of yet. */
export function unknownInRule(rule: Rule, cases: readonly RuleFacts[]): string[] {
  switch (rule.is) {
    case 'and':
    case 'or':
      return [...new Set([...unknownInRule(rule.left, cases), ...unknownInRule(rule.right, cases)])]
    case 'not':
    case 'priority':
      return []
    case 'application':
      return cases.some(({ applications }) => applications.includes(rule.value))
        ? []
        : [`no case meets the application “${rule.value}”`]
    case 'tag':
      return cases.some(({ tags }) => tags.includes(rule.value))
        ? []
        : [`no case has the tag “${rule.value}”`]
    case 'requires':
      return cases.some(({ requires }) => requires.includes(rule.value))
        ? []
        : [`no case has the requirement “${rule.value}”`]
    case 'key':
      return cases.some(({ key }) => key === rule.value) ? [] : [`no case has the key “${rule.value}”`]
  }
}
