/** Takes out of a message what differs from one failure to the next of the same cause: numbers, times,
 * addresses, references, quoted data. What tells causes apart stays. */

/** Longer messages are judged by their beginning: some of these patterns look again from each word on. */
const CHARS_MOST = 4000
/** Names behind and before these words are no data. */
const NAMED =
  'button|link|field|table|column|property|attribute|dialog|check|constraint|relation|module|variable|' +
  'function|method|class|parameter|argument|key|tab|menu|checkbox|label'
const BEHIND_NAMED = new RegExp(`\\b(?:${NAMED})(?: named| called)?\\s*[:=]?\\s*\\(?$`, 'i')
const BEFORE_NAMED = new RegExp(`^\\s*(?:${NAMED})\\b`, 'i')
const MONTHS =
  'jan(?:uary|uar|vier|\\.)?|feb(?:ruary|ruar|\\.)?|mar(?:ch|s|\\.)?|märz|apr(?:il|\\.)?|ma[iy]|june?|juni?|july?|juli|' +
  'aug(?:ust|\\.)?|sep(?:t|tember|\\.)?|o[ck]t(?:ober|\\.)?|nov(?:ember|\\.)?|de[cz](?:ember|\\.)?'
const UNITS =
  'ms|millis(?:econds?)?|milliseconds?|s|secs?|seconds?|sekunden?|m|mins?|minutes?|minuten?|h|hrs?|hours?|days?|' +
  'ns|µs|us|bytes?|[kmg]i?b|px|%'
/** Of what HTTP says: with the words around it, or with its own (RFC 9110). */
const STATUS = new RegExp(
  [
    String.raw`\b((?:http(?:\/\d(?:\.\d)?)?|status(?:[ _-]?code)?|answer(?:s|ed)?(?: with)?|`,
    String.raw`respon(?:se|ds|ded)(?: with| code)?|return(?:s|ed)(?: with)?|code)`,
    String.raw`\s*(?:is|was|of)?\s*[:=]?\s*)([1-5]\d\d)\b(?![.,]?\d)`,
  ].join(''),
  'gi',
)
const PHRASES =
  'bad request|unauthorized|forbidden|not found|method not allowed|conflict|gone|unprocessable|' +
  'too many requests|internal server error|bad gateway|service unavailable|gateway time-?out'
const STATUS_WORDS = new RegExp(String.raw`\b([45]\d\d)(?=\s+(?:${PHRASES})\b)`, 'gi')
/** Kept over the taking out of numbers. */
const [OPEN, CLOSE] = ['\u0001', '\u0002']
const keep = (digits: string): string =>
  OPEN + [...digits].map((digit) => String.fromCharCode(0xe000 + Number(digit))).join('') + CLOSE

const steps: readonly (readonly [RegExp, string | ((...found: string[]) => string)])[] = [
  [/\u001b\[[0-9;?]*[A-Za-z]|\[(?:\d{1,3};?){1,4}m/g, ''],
  [/[\u0000-\u0008\u000b-\u001f\u007f\u200b-\u200f\ufeff\ufffd]/g, ' '],
  [/[“”„«»]/g, '"'],
  [/[‘’‚`´]/g, "'"],
  [STATUS, (_, words, code) => `${words}${keep(code!)}`],
  [STATUS_WORDS, (_, code) => keep(code!)],
  [/\b(?:[a-z][a-z0-9+.-]*):\/\/[^\s"'<>)\]]+/gi, '<url>'],
  [/\b[\w.+-]+@[\w-]+(?:\.[\w-]+)+\b/g, '<mail>'],
  [/(^|[\s("'=,:])(?:[A-Za-z]:)?(?:[\\/][\w.@~%+$-]+)+[\\/]?/g, '$1<path>'],
  [/\b[\w.@-]+(?:\/[\w.@-]+){2,}/g, '<path>'],
  [
    /\b[\w@-]+(?:\/[\w.@-]+)*\.(?:[cm]?[jt]sx?|java|kt|py|rb|go|rs|cs|php|json|ya?ml|html?|css|txt|csv|log|xml|png|jpe?g|pdf)\b(?::\d+)*/g,
    '<path>',
  ],
  [/\b[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}\b/gi, '<ref>'],
  [/\b0x[0-9a-f]+\b/gi, '<ref>'],
  [/@[0-9a-f]{4,16}\b/g, ''],
  [/\b\d{4}-\d\d-\d\d(?:[T ]\d\d:\d\d(?::\d\d(?:[.,]\d+)?)?(?:\s?(?:Z|UTC|[+-]\d\d:?\d\d))?)?\b/g, '<n>'],
  [/\b\d{1,4}[./]\d{1,2}[./]\d{2,4}\b/g, '<n>'],
  [
    new RegExp(
      `\\b\\d{1,2}(?:st|nd|rd|th|\\.)?\\s+(?:de\\s+)?(?:${MONTHS})(?:\\s+(?:de\\s+)?\\d{4})?\\b`,
      'gi',
    ),
    '<n>',
  ],
  [new RegExp(`\\b(?:${MONTHS})\\s+\\d{1,2}(?:st|nd|rd|th)?(?:,?\\s+\\d{4})?\\b`, 'gi'), '<n>'],
  [/\b(?:mon|tues|wednes|thurs|fri|satur|sun)day\b,?/gi, ''],
  [
    /\b\d{1,2}:\d\d(?::\d\d(?:[.,]\d+)?)?(?:\s?[ap]\.?m\.?\b)?(?:\s?(?:Z|UTC|GMT|[+-]\d\d:?\d\d)\b)?/gi,
    '<n>',
  ],
  [/(?:\b\d{1,3}\.){3}\d{1,3}(?::\d+)?\b/g, '<host>'],
  [/(?:\b[0-9a-f]{0,4}:){3,7}[0-9a-f]{1,4}\b/gi, '<host>'],
  [/\b(?:localhost|[a-z0-9-]+(?:\.[a-z0-9-]+)+):\d{2,5}\b/g, '<host>'],
  [/\blocalhost\b/g, '<host>'],
  [
    /\b[a-z0-9-]+(?:\.[a-z0-9-]+)*\.(?:com|org|net|io|dev|local|internal|invalid|example|test|lan|cloud)\b/g,
    '<host>',
  ],
]

/** Texts in quotes are data, unless they are a name. */
function withoutQuoted(text: string): string {
  return text.replace(
    /"((?:[^"\\\n]|\\.)*)("|$)|(?<![\p{L}\p{N}])'((?:[^'\\\n]|\\.|'(?=\p{L}))*)('(?![\p{L}\p{N}])|$)/gmu,
    (whole, double: string | undefined, _end, single: string | undefined, __, at: number) => {
      const inside = double ?? single ?? ''
      const isName =
        BEHIND_NAMED.test(text.slice(Math.max(0, at - 40), at)) ||
        BEFORE_NAMED.test(text.slice(at + whole.length, at + whole.length + 40))
      return isName ? ` ${inside} ` : '<q>'
    },
  )
}

/** Data that is not quoted: behind "expected" and "found", up to where the next begins. */
const COMPARED = new RegExp(
  [
    String.raw`\b(expected|received|actual(?:ly)?|(?:but|it) (?:was|got|found|is)|found|got|wanted)`,
    String.raw`(\s*[:=]\s*|\s+)`,
    String.raw`(?!(?:undefined|null|nan|none|nil|true|false|to|not|no|an?|the|at|in|on|of|by|for)\b)`,
    String.raw`[^\s,;]+(?:\s[^\s,;]+){0,7}?`,
    String.raw`(?=\s*(?:$|[,;]|\.\s|\bbut\b|\bfound\b|\bgot\b|\breceived\b|\bactual|\binstead\b))`,
  ].join(''),
  'gim',
)

const brackets: typeof steps = [
  [/\{[^{}]*\}/g, '<q>'],
  [/\{[^{}]*\}/g, '<q>'],
  // An attribute of the page is a name, and what stands at the beginning may be a level of a log.
  [/(?<=\S\s*)\[[^[\]=]*\]/g, '<q>'],
]

const later: typeof steps = [
  [new RegExp(`[-+]?\\d+(?:[.,' \u00a0]\\d+)*\\s?(?:${UNITS})(?![\\p{L}\\p{N}])`, 'giu'), '<n>'],
  // A reference has digits behind large letters, or among its letters.
  [/\b[A-Z]{2,}[-_]?\d+\b/g, '<n>'],
  [/\b(?=[\w-]*\d{3})[\w]+(?:-[\w]+)*\b/g, '<n>'],
  [/\b(?=\w*\d\w*\d)(?=\w*[a-z])\w{8,}\b/gi, '<n>'],
  [/[-+]?\d+(?:[.,' \u00a0]\d+)*/g, '<n>'],
  [/<(?:n|q|ref|url|mail|host|path)>/g, '<n>'],
  [/<n>(?:\s*(?:,|;|\/|x|-|and|or|und|of|to)?\s*\(?<n>\)?)+/g, '<n>'],
  [/\(\s*<n>\s*\)/g, '<n>'],
]

/** @returns the message with `<n>` for what is volatile, and its case and order as they were */
export function withoutVolatile(message: string): string {
  let text = message.slice(0, CHARS_MOST).normalize('NFKC')
  for (const [pattern, by] of steps) text = text.replace(pattern, by as string)
  text = withoutQuoted(text)
  for (const [pattern, by] of brackets) text = text.replace(pattern, by as string)
  if (/\bexpect/i.test(text)) text = text.replace(COMPARED, '$1 <q>')
  for (const [pattern, by] of later) text = text.replace(pattern, by as string)
  return text
    .replace(/\u0001([\ue000-\ue009]+)\u0002/g, (_, code: string) =>
      [...code].map((digit) => String(digit.charCodeAt(0) - 0xe000)).join(''),
    )
    .replace(/[ \t]+/g, ' ')
    .trim()
}
