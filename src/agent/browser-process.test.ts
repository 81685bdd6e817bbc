import { spawn } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { getPriority } from 'node:os'
import { text } from 'node:stream/consumers'
import { browserEnv, newMark, startBrowserPath } from './browser-process'

/** What a program says that is started as browsers are. */
async function saidBy(program: string, ...args: string[]): Promise<string> {
  const env = browserEnv(newMark(), program)
  const child = spawn(startBrowserPath(), args, { env, detached: true, stdio: ['ignore', 'pipe', 'inherit'] })
  return (await text(child.stdout)).trim()
}

test('a browser stands behind its agent from its first moment', async () => {
  // Without arguments, nice(1) prints the niceness it has.
  expect(Number(await saidBy('/usr/bin/nice'))).toBe(getPriority() + 5)
})

const AUTOGROUP = '/proc/self/autogroup'
const isShared = existsSync(AUTOGROUP) && process.getuid?.() === 0
const testWhere = isShared ? test : test.skip

testWhere('so does the session it leads, and that of its agent stays as it is', async () => {
  const before = readFileSync(AUTOGROUP, 'utf8')
  expect(await saidBy('/bin/cat', AUTOGROUP)).toMatch(new RegExp(` nice ${getPriority() + 5}$`))
  expect(readFileSync(AUTOGROUP, 'utf8')).toBe(before)
})

test('what a browser is told arrives as it was said', async () => {
  expect(await saidBy('/usr/bin/printf', '%s|', 'a b', '$HOME', "it's")).toBe("a b|$HOME|it's|")
})
