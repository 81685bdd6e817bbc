/** What the documents name has to be there: files by their path, and each other by their links. */
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'

const PAGES = [
  'README.md',
  ...readdirSync('docs', { recursive: true })
    .map((path) => join('docs', String(path)))
    .filter((path) => path.endsWith('.md')),
]

test.each(PAGES)('%s names files that are there', (page) => {
  const text = readFileSync(page, 'utf8')
  const paths = [...text.matchAll(/`((?:src|e2e|docs|bench|stand-ins)\/[^`\s*]+)`/g)].map(([, path]) => path!)
  expect(paths.filter((path) => !existsSync(path))).toEqual([])
  const links = [...text.matchAll(/\]\((?!https?:|#)([^)#]+)(?:#[^)]*)?\)/g)].map(([, link]) => link!)
  expect(links.filter((link) => !existsSync(join(dirname(page), link)))).toEqual([])
})
test('there are documents to look at', () => expect(PAGES.length).toBeGreaterThan(15))
