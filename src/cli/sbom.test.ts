import { execFileSync } from 'node:child_process'
import { SBOM_ARGS } from './sbom'

type Bill = { bomFormat: string; components: { name: string; version: string; hashes?: unknown[] }[] }

test('the bill names what the product runs on, with versions and hashes, and nothing that only builds it', () => {
  const said = execFileSync('npm', SBOM_ARGS, {
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
    maxBuffer: 1 << 26,
  })
  const { bomFormat, components } = JSON.parse(said) as Bill
  expect(bomFormat).toBe('CycloneDX')
  const names = components.map(({ name }) => name)
  expect(names).toEqual(expect.arrayContaining(['next', 'drizzle-orm', 'graphile-worker', 're2js']))
  expect(names.filter((name) => ['jest', 'eslint', '@playwright/test'].includes(name))).toEqual([])
  expect(components.filter(({ version }) => !version)).toEqual([])
  expect(components.find(({ name }) => name === 'next')!.hashes).toHaveLength(1)
}, 60_000)
