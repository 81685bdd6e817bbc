/** The program as it is bundled and started, which tests of its parts do not see. */
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import sharp from 'sharp'

const folder = mkdtempSync(join(tmpdir(), 'oak-cli-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

/** @param slowly its output is read piece by piece, so that it has to wait for a full pipe */
function oak(args: string[], slowly = false): Promise<{ code: number | null; out: string; err: string }> {
  const program = spawn(process.execPath, ['build/cli.cjs', ...args])
  const said = { out: '', err: '' }
  program.stderr.on('data', (part: Buffer) => (said.err += String(part)))
  program.stdout.on('data', (part: Buffer) => {
    said.out += String(part)
    if (!slowly) return
    program.stdout.pause()
    setImmediate(() => program.stdout.resume())
  })
  return new Promise((resolve) => program.once('close', (code) => resolve({ code, ...said })))
}

test('it computes from a file, and what it answers arrives whole', async () => {
  const file = join(folder, 'minutes.json')
  writeFileSync(
    file,
    JSON.stringify({
      rule: 'FREQ=MINUTELY',
      timezone: 'Europe/London',
      start: '2026-01-01T00:00',
      onBlackout: 'skip',
      from: '2026-01-01T00:00:00Z',
      to: '2026-01-03T00:00:00Z',
    }),
  )
  const { code, out, err } = await oak(['compute', 'occurrences', file], true)
  expect([code, err]).toEqual([0, ''])
  expect(out.length).toBeGreaterThan(100_000)
  expect(JSON.parse(out)).toHaveLength(2 * 24 * 60)
})

test('it compares pictures', async () => {
  const file = join(folder, 'screen.png')
  await sharp({ create: { width: 40, height: 30, channels: 3, background: '#fff' } })
    .png()
    .toFile(file)
  const { code, out, err } = await oak(['compute', 'difference', file, file])
  expect([code, err]).toEqual([0, ''])
  expect(JSON.parse(out)).toMatchObject({ same: true, regions: [] })
})

test('what it does not know is told, with another exit', async () => {
  const { code, err } = await oak(['compute', 'nothing'])
  expect(code).not.toBe(0)
  expect(err).toContain('there is no computation “nothing”')
})
