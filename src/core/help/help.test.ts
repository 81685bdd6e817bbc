import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { parseDefinition } from '../model/files'
import { VERB_NAMES } from '../model/verbs'
import { findHelp, HELP_GROUPS, HELP_PAGES, helpOfField, helpOfVerb, helpSummary } from '.'
import { FORM_LABELS } from './form-fields'
import { FIELD_HELP, type FieldHelp } from './fields'

test.each(VERB_NAMES)('the example of %s is sound', (verb) => {
  const { example } = helpOfVerb(verb)!
  const steps = example.replaceAll(/^/gm, '  ')
  const inRole = example.replaceAll(/^/gm, '      ')
  const roles = `roles:\n  one:\n    steps:\n${inRole}\n  two:\n    steps:\n      - meet: boarding-open\n`
  const source = `case: x\ntitle: X\n${verb === 'meet' ? roles : `steps:\n${steps}\n`}`
  expect(parseDefinition('x.case.yaml', source).problems).toEqual([])
  expect(example).toContain(`${verb}:`)
})

test('the tables of the documents say the same of fields', () => {
  const rows = readFileSync('docs/formats/fields.md', 'utf8')
    .split('\n## ')
    .slice(1)
    .map((part): [string, FieldHelp[]] => [
      part.slice(0, part.indexOf('\n')),
      [...part.matchAll(/^\| `([^`]+)` \| ?(.*?) ?\| (.*?) \| `(.+)` \|$/gm)].map(
        ([, field, form, says, example]) => ({ field: field!, form: form!, says: says!, example: example! }),
      ),
    ])
  expect(Object.fromEntries(rows)).toEqual(FIELD_HELP)
})

test.each(FORM_LABELS)('some form has the field “%s”', (label) => {
  const forms = readdirSync('src/ui', { recursive: true, encoding: 'utf8' }).filter((file) =>
    file.endsWith('.tsx'),
  )
  const has = (file: string) => readFileSync(`src/ui/${file}`, 'utf8').includes(label)
  expect(forms.some(has)).toBe(true)
})

test('a field is told of the file it stands in, the nearest first', () => {
  expect(helpOfField('case', 'priority')?.says).toContain('carried out first')
  expect(helpOfField('rotation', 'cover')?.field).toBe('where.cover')
  expect(helpOfField('case', 'testId')).toBeDefined()
  expect(helpOfField('suite', 'entries')?.says).toBe('Its tree')
  expect([helpOfField('case', 'constructor'), helpOfField('data', 'title')]).toEqual([undefined, undefined])
  expect(findHelp('leaveOut').map(({ key }) => key)).toContain('fields-rotation')
})

test('no two pages share a key, and each says something', () => {
  expect(new Set(HELP_PAGES.map(({ key }) => key)).size).toBe(HELP_PAGES.length)
  for (const { title, text } of HELP_PAGES) expect([title.length > 2, text.length > 40]).toEqual([true, true])
})

test('what is sought stands in the title first, then in the text; nothing is found for nothing', () => {
  expect(findHelp('upload')[0]!.key).toBe('step-upload')
  expect(findHelp('LEASE work').map(({ key }) => key)).toContain('fleet')
  expect(findHelp('no such words')).toEqual([])
  expect(findHelp('  ')).toEqual([])
  expect(findHelp('on')).toEqual([])
  // words begin so: “stopped” is none for who looks for “top”
  expect(findHelp('top').map(({ key }) => key)).toEqual(['now'])
  expect(
    findHelp('recov')
      .map(({ key }) => key)
      .slice(0, 2),
  ).toEqual(['recovery', 'outcomes'])
  expect(helpOfVerb('constructor')).toBeUndefined()
})

const FILE = 'docs/help/README.md'
test('docs/help has the same text', () => {
  const text = [
    '# Help\n',
    'The pages of help, as the product shows them (`?` on any view, and *All pages of help*).',
    'Written by a test from `src/core/help`.\n',
    ...HELP_GROUPS.map(
      ({ title, pages }) =>
        `## ${title}\n\n${pages.map((page) => `### ${page.title}\n\n${page.text}\n`).join('\n')}`,
    ),
  ].join('\n')
  if (process.env.OAK_WRITE_DOCS) {
    mkdirSync(dirname(FILE), { recursive: true })
    writeFileSync(FILE, text)
  }
  expect(existsSync(FILE) && readFileSync(FILE, 'utf8')).toBe(text)
})

test.each(HELP_PAGES.map((page) => [page.key, page] as const))(
  'what %s is about is one line without marks of lists, headings or code',
  (_, page) => expect(helpSummary(page)).toMatch(/^[^-#*`\s][^*`\n]*[^:\s]$/),
)
