/** Stack traces of many languages: the cause at the bottom, and the first frame that is the application's
 * own. */

export type Frame = { name: string; file: string }
/** `head`: what the innermost cause says. `frames`: of that cause, the innermost first. */
export type Trace = { head: string; frames: Frame[] }

const LINES_MOST = 20_000
/** A longer line is no frame. */
const FRAME_CHARS_MOST = 1000
/** Where libraries and engines live, in the languages they are written in. */
const FOREIGN = new RegExp(
  [
    String.raw`node_modules|^node:|internal\/|webpack\/(?:bootstrap|runtime)|\[native code\]|`,
    String.raw`<anonymous>|site-packages|dist-packages|[\\/]lib[\\/](?:python|ruby|node)|`,
    String.raw`[\\/]usr[\\/](?:lib|local[\\/]go)|[\\/]go[\\/]pkg[\\/]mod|\.cargo[\\/]registry|`,
    String.raw`rustc[\\/]|[\\/]vendor[\\/]|[\\/]gems[\\/]`,
  ].join(''),
  'i',
)
const FOREIGN_NAMES = new RegExp(
  [
    String.raw`^(?:rust_begin_unwind|__rust_\w+|main\.main)$|^(?:java|javax|jdk|sun|com\.sun|`,
    String.raw`kotlin|scala|groovy|org\.(?:apache|springframework|hibernate|eclipse|gradle|`,
    String.raw`postgresql)|io\.netty|com\.(?:fasterxml|zaxxer|google\.common)|jakarta|`,
    String.raw`System|Microsoft|Npgsql|Newtonsoft|runtime|testing|net\/http|`,
    String.raw`database\/sql|reflect|core|std|alloc|tokio|hyper|Illuminate|Symfony)\b[.:/\\]`,
  ].join(''),
)
const CAUSED_BY = /^\s*(?:caused by|\[cause\]|nested exception is|inner exception|---?>)\s*:?\s*/i

type Reading = { pattern: RegExp; name: number; file: number }
/** One line of a trace, by the way each language writes it. */
const LINES: readonly Reading[] = [
  // Java, Kotlin, Scala
  {
    pattern:
      /^\s*at ([\w$.<>/]+)\(([\w$]+\.(?:java|kt|scala|groovy)|Native Method|Unknown Source)(?::\d+)?\)/,
    name: 1,
    file: 2,
  },
  // .NET
  { pattern: /^\s*at ([\w.`<>[\],+|]+(?:\([^)]*\))) in (.+?):line \d+/, name: 1, file: 2 },
  { pattern: /^\s*at ((?:System|Microsoft|Npgsql)\.[\w.`<>[\],+|]+\([^)]*\))()\s*$/, name: 1, file: 2 },
  // V8
  { pattern: /^\s*at (?:async )?(?:new )?(.{1,200}?) \((.+?)(?::\d+)?(?::\d+)?\)\s*$/, name: 1, file: 2 },
  { pattern: /^\s*at ()(?:async )?((?:[a-z][\w+.-]*:)?[^\s()]+?):\d+(?::\d+)?\s*$/, name: 1, file: 2 },
  // SpiderMonkey and JavaScriptCore
  {
    pattern:
      /^\s*([\w$.<>/\[\]* ]{0,200})@((?:[a-z][\w+.-]*:\/\/|\/|\[native|resource:|file:)[^\s]*?)(?::\d+)?(?::\d+)?\s*$/,
    name: 1,
    file: 2,
  },
  // Python
  { pattern: /^\s*File "([^"]+)", line \d+, in (.+?)\s*$/, name: 2, file: 1 },
  // Ruby
  {
    pattern: /^\s*(?:from )?(\S+\.rb):\d+:in [`'](?:block (?:\(\d+ levels\) )?in )?(.+?)'/,
    name: 2,
    file: 1,
  },
  // PHP
  { pattern: /^\s*#\d+ (\S+?)\(\d+\): (.+?)\(/, name: 2, file: 1 },
  // Rust
  { pattern: /^\s*\d+: ([\w:<>{}#]+)()\s*$/, name: 1, file: 2 },
]
/** Go writes the function, and its file on the line below. */
const GO = /^([\w./*()-]+\.[\w.()*]+)\(.{0,500}\)\s*$/
const GO_FILE = /^\s+(\S+\.go):\d+/
/** What belongs to a trace and is no frame. */
const AROUND = new RegExp(
  [
    String.raw`^\s*(?:traceback \(most recent call last\):|goroutine \d+|stack trace:|`,
    String.raw`\.\.\. \d+ more|--- end of|\^+\s*$|~+|during handling of|the above exception)`,
  ].join(''),
  'i',
)

/** @param text a message, a stack, or both one under the other */
export function traceOf(text: string): Trace {
  const lines = text.split('\n', LINES_MOST)
  const isPython = lines.some((line) => /^\s*traceback \(most recent call last\)/i.test(line))
  let head: string[] = []
  let frames: Frame[] = []
  let isOver = false
  for (let i = 0; i < lines.length; i++) {
    const line = lines[i]!
    const mayBeFrame = line.length <= FRAME_CHARS_MOST
    const go = mayBeFrame ? GO.exec(line) : null
    const goFile = go && GO_FILE.exec(lines[i + 1] ?? '')
    const frame = goFile ? { name: go[1]!, file: goFile[1]! } : mayBeFrame && frameIn(line)
    if (goFile) i++
    if (frame) {
      frames.push(frame)
      continue
    }
    if (AROUND.test(line)) {
      // Python tells the causes first, and each with its trace above it.
      if (isPython && /traceback/i.test(line) && frames.length > 0) isOver = true
      if (isOver) break
      continue
    }
    if (CAUSED_BY.test(line)) {
      head = [line.replace(CAUSED_BY, '')]
      frames = []
      continue
    }
    // Below a frame Python writes the line of the program.
    if (isPython && /^\s/.test(line)) continue
    if (isPython && frames.length > 0 && line.trim() !== '') head = [line]
    else if (frames.length === 0) head.push(line)
  }
  return { head: head.join('\n').trim(), frames: isPython ? frames.toReversed() : frames }
}

function frameIn(line: string): Frame | undefined {
  for (const { pattern, name, file } of LINES) {
    const found = pattern.exec(line)
    if (found) return { name: found[name] ?? '', file: found[file] ?? '' }
  }
  return undefined
}

/** The first frame of the application, as its function; a function without a name by its file. The same
 * function has other names before it in other engines, and other numbers in its file with each build.
 * @returns '' where there is none */
export function ownFrame(frames: readonly Frame[]): string {
  const own = frames.find(({ name, file }) => !FOREIGN.test(file) && !FOREIGN_NAMES.test(name))
  if (!own) return ''
  const plain = own.name
    .replace(/\(.*$/s, '')
    .replace(/\[as .*$/, '')
    .replace(/<[^>]*>|\/<.*$|\{\{.*?\}\}/g, '')
    .replace(/::h[0-9a-f]{16}$/, '')
    .trim()
  const name =
    plain
      .split(/[.:/\\>#$]+/)
      .filter(Boolean)
      .at(-1) ?? ''
  return /^(?:anonymous|module code|global code|eval|lambda\d*|<.*>|)$/i.test(name)
    ? fileOf(own.file)
    : name.toLowerCase()
}

/** "https://host/app.3f2a91.js?v=2" is "app". */
function fileOf(file: string): string {
  const name =
    file
      .replace(/[?#].*$/, '')
      .split(/[\\/]/)
      .at(-1) ?? ''
  return name
    .replace(/\.[^.]+$/, '')
    .replace(/[.-][0-9a-f]{5,}$/i, '')
    .toLowerCase()
}
