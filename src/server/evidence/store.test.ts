/** One list of what a store does, for each of them. */
import { mkdtemp, rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import type { Readable } from 'node:stream'
import S3rver from 's3rver'
import { evidenceStoreAt } from './place'
import { hashOf, type EvidenceStore } from './store'

const KEYS = {
  AWS_ACCESS_KEY_ID: 'S3RVER',
  AWS_SECRET_ACCESS_KEY: 'S3RVER',
  AWS_EC2_METADATA_DISABLED: 'true',
}
const before = { ...process.env }
let folder: string
let server: S3rver
let endpoint: string

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'oak-store-'))
  server = new S3rver({
    port: 0,
    address: '127.0.0.1',
    silent: true,
    directory: join(folder, 's3'),
    configureBuckets: [{ name: 'harbour-evidence', configs: [] }],
  })
  const { port } = await server.run()
  endpoint = `http://127.0.0.1:${port}`
  Object.assign(process.env, KEYS)
})
afterAll(async () => {
  await server.close()
  await rm(folder, { recursive: true, force: true })
  process.env = before
})

const open = (address: string): EvidenceStore =>
  evidenceStoreAt(address, { home: folder, env: { AWS_ENDPOINT_URL_S3: endpoint } })
const whole = async (stream: Readable) => {
  const parts: Uint8Array[] = []
  for await (const part of stream) parts.push(part as Uint8Array)
  return Buffer.concat(parts)
}
async function* inParts(bytes: Buffer, size: number) {
  for (let at = 0; at < bytes.length; at += size) yield bytes.subarray(at, at + size)
}
async function* breaking() {
  yield Buffer.from('a part')
  throw new Error('the agent hung up')
}
/** Like nothing else, so that tests do not see each other's. */
let nth = 0
const piece = (length = 40) => Buffer.alloc(length, `piece ${++nth} `)

describe.each(['files', 's3://harbour-evidence', 's3://harbour-evidence/runs/of 2026'])('%s', (address) => {
  let store: EvidenceStore
  beforeAll(() => (store = open(address)))

  test('what is put is there, twice as once; what is not is told apart', async () => {
    const bytes = piece()
    const hash = hashOf(bytes)
    expect(await store.size(hash)).toBeUndefined()
    await store.put(hash, bytes)
    await store.put(hash, bytes)
    expect(await store.size(hash)).toBe(bytes.length)
    expect(await whole(store.read(hash))).toEqual(bytes)
    await expect(whole(store.read('0'.repeat(64)))).rejects.toThrow()
  })

  test('a part is read by its first and last byte', async () => {
    const bytes = piece(1000)
    await store.put(hashOf(bytes), bytes)
    expect(await whole(store.read(hashOf(bytes), { start: 10, end: 19 }))).toEqual(bytes.subarray(10, 20))
    expect(await whole(store.read(hashOf(bytes), { start: 999, end: 999 }))).toHaveLength(1)
  })

  test.each([
    ['small', 300],
    ['of many parts', 12_000_000],
  ])(
    'what comes as a stream, %s, is kept if it has its hash, and leaves nothing if not',
    async (_, length) => {
      const bytes = piece(length)
      const hash = hashOf(bytes)
      const other = hashOf(Buffer.from(`another ${nth}`))
      expect(await store.receive(other, inParts(bytes, 65_536))).toEqual({ same: false, bytes: length })
      expect([await store.size(other), await store.size(hash)]).toEqual([undefined, undefined])
      expect(await store.receive(hash, inParts(bytes, 65_536))).toEqual({ same: true, bytes: length })
      expect((await whole(store.read(hash))).equals(bytes)).toBe(true)
    },
    60_000,
  )

  test('a stream that breaks leaves nothing, and its own reason', async () => {
    const hash = hashOf(piece())
    await expect(store.receive(hash, breaking())).rejects.toThrow('the agent hung up')
    expect(await store.size(hash)).toBeUndefined()
  })

  test('what is put aside is gone, comes back, or is dropped', async () => {
    const bytes = piece()
    const hash = hashOf(bytes)
    await store.put(hash, bytes)
    await store.putAside(hash)
    expect(await store.size(hash)).toBeUndefined()
    await store.bringBack(hash)
    expect(await whole(store.read(hash))).toEqual(bytes)
    await store.putAside(hash)
    await store.drop(hash)
    await store.bringBack(hash)
    expect(await store.size(hash)).toBeUndefined()
    await store.putAside(hash) // nothing is there: that is fine
    await store.drop(hash)
  })
})

test('a store that is away, or has no such bucket, is told in a sentence, without its address', async () => {
  const away = { AWS_ENDPOINT_URL_S3: 'http://127.0.0.1:9' }
  const bytes = piece()
  for (const store of [
    evidenceStoreAt('s3://harbour-evidence', { home: folder, env: away }),
    open('s3://no-such-bucket'),
  ]) {
    const problem = { code: 'STORE_AWAY', message: expect.not.stringContaining('127.0.0.1') }
    await expect(store.put(hashOf(bytes), bytes)).rejects.toMatchObject(problem)
    await expect(store.receive(hashOf(bytes), inParts(bytes, 10))).rejects.toMatchObject(problem)
  }
}, 60_000)

test.each(['s3://', 's3://UPPER/x', 'ftp://harbour', '/var/evidence'])('“%s” is no place', (address) =>
  expect(() => open(address)).toThrow(/is no place for evidence/),
)
