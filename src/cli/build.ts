/** Builds the web application when its sources changed. */
import { spawnSync } from 'node:child_process'
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { CliProblem } from './options'

/** The folders a page may be made of. Times are not enough: a checkout sets them anew, so contents count. */
const SOURCES = [
  'src/app',
  'src/ui',
  'src/server',
  'src/db',
  'src/core',
  'next.config.ts',
  'postcss.config.mjs',
  'package-lock.json',
  'tsconfig.json',
  'public',
]
const STAMP = '.next/oak-stamp'

function sourceStamp(): string {
  const sum = createHash('sha256')
  const visit = (path: string) => {
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name))
    else if (!/\.test\.tsx?$/.test(path)) sum.update(path).update(readFileSync(path))
  }
  SOURCES.filter(existsSync).forEach(visit)
  return sum.digest('hex')
}

export async function buildWeb(say: (text: string) => void): Promise<void> {
  const stamp = sourceStamp()
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === stamp) return
  say('building the web application (about a minute)')
  const done = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
    encoding: 'utf8',
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  })
  if (done.status !== 0)
    throw new CliProblem(
      'the web application does not build:\n' +
        `${done.stdout}\n${done.stderr}`.trim().split('\n').slice(-30).join('\n'),
    )
  // A dynamic path that is not marked makes every build walk all data that lies beside the source: minutes,
  // and gigabytes.
  if (done.stdout.includes('tracing of the whole project'))
    throw new CliProblem(
      'the build takes the whole project along: mark the path with turbopackIgnore\n' +
        done.stdout.slice(done.stdout.indexOf('Turbopack build encountered')).slice(0, 3000),
    )
  writeFileSync(STAMP, stamp)
}
