/** docs/access.md: every address of the API and the role it asks for, made from the code. `OAK_WRITE_DOCS=1`
 * writes it anew. */
import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

const API = join('src', 'app', 'api')
const FILE = join('docs', 'access.md')
const ROLES = ['viewer', 'tester', 'coordinator', 'admin']

type Access = { path: string; method: string; who: string }

/** What a handler asks for, by the calls that stand in it. */
const CALLS: readonly [RegExp, (found: RegExpExecArray) => string][] = [
  [/require(?:Role|Reader)\(request, '(\w+)'\)/, ([, role]) => role!],
  [/requirePerson\(request\)/, () => 'viewer'],
  [/takeWebhook\(/, () => 'signed message or token in its address'],
  [/takeTrigger\(|takeTrackerMessage\(|takeBuild\w*\(/, () => 'signed message'],
  [/answerSignIn\(|answerWelcome\(/, () => 'anybody'],
]

function accessOf(body: string): string {
  const tokens = [...body.matchAll(/requireToken(?:Text)?\([^)]*'(\w+)'\)/g)].map(
    ([, purpose]) => `${purpose} token`,
  )
  const people = CALLS.flatMap(([pattern, say]) => {
    const found = pattern.exec(body)
    return found ? [say(found)] : []
  }).slice(0, 1)
  return [...people, ...tokens].join(' or ') || 'UNKNOWN'
}

const compare = (a: string, b: string) => Number(a > b) - Number(a < b)

function routes(): Access[] {
  const files = readdirSync(API, { recursive: true })
    .map(String)
    .filter((file) => file.endsWith('route.ts'))
  return files
    .flatMap((file) => {
      const text = readFileSync(join(API, file), 'utf8')
      const shared = text.slice(
        0,
        text.search(/export (?:const|async function) (?:GET|POST|PUT|PATCH|DELETE)\b/),
      )
      const starts = [...text.matchAll(/export (?:const|async function) (GET|POST|PUT|PATCH|DELETE)\b/g)]
      return starts.map((start, i): Access => {
        const body = text.slice(start.index, starts[i + 1]?.index)
        const own = accessOf(body)
        const path = `/api/${file.replaceAll('\\', '/').replace(/\/?route\.ts$/, '')}`
        return { path, method: start[1]!, who: own === 'UNKNOWN' ? accessOf(shared) : own }
      })
    })
    .sort((a, b) => compare(a.path, b.path) || compare(a.method, b.method))
}

function page(found: Access[]): string {
  const mark = (who: string, role: string) => {
    const least = ROLES.indexOf(who.split(' or ')[0]!)
    if (least < 0) return who === 'anybody' ? 'yes' : ''
    return ROLES.indexOf(role) >= least ? 'yes' : ''
  }
  const others = (who: string) =>
    who
      .split(' or ')
      .filter((one) => !ROLES.includes(one))
      .join(', ')
  const lines = found.map(
    ({ path, method, who }) =>
      `| \`${method} ${path}\` | ${ROLES.map((role) => mark(who, role)).join(' | ')} | ${others(who)} |`,
  )
  return `# Who may ask what

Made from the code of the routes by a test, which fails when it is no longer so. The agent protocol asks for \
an agent's token everywhere ([agent-protocol.md](agent-protocol.md)); \`GET /api/health\` asks for nothing, \
and \`GET /shared/TOKEN\`, a run that was shared, for nothing but its address. What a role may, those after \
it may too. Each state change also has to come from the product's own pages.

| address | ${ROLES.join(' | ')} | others |
|---|${ROLES.map(() => '---').join('|')}|---|
${lines.join('\n')}
`
}

test('every route says who may ask it', () => {
  const found = routes()
  expect(found.length).toBeGreaterThan(90)
  expect(found.filter(({ who }) => who === 'UNKNOWN')).toEqual([])
})
test('docs/access.md says what the code says', () => {
  if (process.env.OAK_WRITE_DOCS) writeFileSync(FILE, page(routes()))
  expect(readFileSync(FILE, 'utf8')).toBe(page(routes()))
})
