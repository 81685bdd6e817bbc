/** Evidence in an S3-compatible store, by content as in files. The SDK is loaded when it is first needed:
 * most installations keep evidence in files. */
import { createHash } from 'node:crypto'
import { Readable } from 'node:stream'
import type { S3Client } from '@aws-sdk/client-s3'
import { Problem } from '../http/problems'
import type { EvidenceStore } from './store'

/** `endpoint` absent: of the region, as the cloud has it. Keys come from the environment, as the SDK looks
 * for them. */
export type S3Place = { bucket: string; prefix: string; endpoint?: string; region: string }

/** A part of a large piece, as it is sent: less is not allowed by the protocol. */
const PART_BYTES = 5 * 1024 * 1024
const TRIES_MOST = 3
const CONNECT_MS = 5_000
const REQUEST_MS = 60_000

export function s3EvidenceStore(place: S3Place): EvidenceStore {
  const sdk = () => import('@aws-sdk/client-s3')
  let made: Promise<S3Client> | undefined
  const client = () => (made ??= clientOf(place))
  const at = (hash: string) => ({ Bucket: place.bucket, Key: keyOf(place, hash) })
  const aside = (hash: string) => ({ Bucket: place.bucket, Key: `${keyOf(place, hash)}.aside` })
  type At = ReturnType<typeof at>

  const sizeOf = async (which: At): Promise<number | undefined> => {
    const { HeadObjectCommand } = await sdk()
    try {
      return (await (await client()).send(new HeadObjectCommand(which))).ContentLength ?? 0
    } catch (error) {
      if (isMissing(error)) return undefined
      throw away(error)
    }
  }
  const remove = async (which: At): Promise<void> => {
    const { DeleteObjectCommand } = await sdk()
    await (await client()).send(new DeleteObjectCommand(which)).catch(unlessMissing)
  }
  /** There is no renaming: what is copied is deleted after it, so a fall between leaves both. */
  const rename = async (from: At, to: At): Promise<void> => {
    const { CopyObjectCommand } = await sdk()
    const source = `${from.Bucket}/${from.Key.split('/').map(encodeURIComponent).join('/')}`
    const copied = await (
      await client()
    )
      .send(new CopyObjectCommand({ ...to, CopySource: source }))
      .catch(unlessMissing)
    if (copied) await remove(from)
  }

  async function* bytesOf(which: At, range?: { start: number; end: number }): AsyncGenerator<Uint8Array> {
    const { GetObjectCommand } = await sdk()
    const part = range && { Range: `bytes=${range.start}-${range.end}` }
    const answer = await (
      await client()
    )
      .send(new GetObjectCommand({ ...which, ...part }))
      .catch((error: unknown) => {
        throw away(error)
      })
    yield* answer.Body as Readable
  }

  return {
    async put(hash, bytes) {
      const { PutObjectCommand } = await sdk()
      await (
        await client()
      )
        .send(new PutObjectCommand({ ...at(hash), Body: bytes, ContentLength: bytes.length }))
        .catch((error: unknown) => {
          throw away(error)
        })
    },
    async receive(hash, parts) {
      const { Upload } = await import('@aws-sdk/lib-storage')
      const sum = createHash('sha256')
      let bytes = 0
      // An upload that fails before its end leaves nothing: so one with another hash is made to fail.
      const checked = async function* () {
        for await (const part of parts) {
          bytes += part.length
          sum.update(part)
          yield part
        }
        if (sum.digest('hex') !== hash) throw new Differs()
      }
      let failed: unknown
      const body = Readable.from(checked(), { objectMode: false })
      body.once('error', (error) => (failed = error))
      const params = { ...at(hash), Body: body }
      const upload = new Upload({ client: await client(), params, partSize: PART_BYTES, queueSize: 2 })
      try {
        await upload.done()
        return { same: true, bytes }
      } catch (error) {
        if (failed instanceof Differs) return { same: false, bytes }
        throw failed ?? away(error)
      } finally {
        body.destroy()
      }
    },
    size: (hash) => sizeOf(at(hash)),
    putAside: (hash) => rename(at(hash), aside(hash)),
    bringBack: (hash) => rename(aside(hash), at(hash)),
    drop: (hash) => remove(aside(hash)),
    read: (hash, range) => Readable.from(bytesOf(at(hash), range), { objectMode: false }),
  }
}

class Differs extends Error {}

async function clientOf({ endpoint, region }: S3Place): Promise<S3Client> {
  // of versions to come: ours is pinned to one that runs here
  process.env.AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED ??= 'true'
  const { S3Client } = await import('@aws-sdk/client-s3')
  return new S3Client({
    region,
    maxAttempts: TRIES_MOST,
    // A store of one's own has one name for all buckets, and may not know the newer checksums.
    ...(endpoint && { endpoint, forcePathStyle: true }),
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
    requestHandler: { connectionTimeout: CONNECT_MS, requestTimeout: REQUEST_MS },
  })
}

/** Two digits of the hash as a folder, as on disk. */
const keyOf = ({ prefix }: S3Place, hash: string) =>
  [prefix, hash.slice(0, 2), hash.slice(2)].filter((part) => part !== '').join('/')

type Failed = { name?: string; $metadata?: { httpStatusCode?: number } }
const isMissing = (error: unknown): boolean => {
  const { name = '', $metadata } = (error ?? {}) as Failed
  return (
    ['NotFound', 'NoSuchKey'].includes(name) || (name !== 'NoSuchBucket' && $metadata?.httpStatusCode === 404)
  )
}
function unlessMissing(error: unknown): undefined {
  if (!isMissing(error)) throw away(error)
  return undefined
}

/** What the store or the way to it says, in a sentence. Its name only: messages may hold addresses. */
function away(error: unknown): Problem {
  const { name = 'unknown', $metadata } = (error ?? {}) as Failed
  const status = $metadata?.httpStatusCode
  return new Problem(
    'STORE_AWAY',
    `The evidence store does not answer as it should (${name}${status ? `, ${status}` : ''}). Agents ` +
      'keep theirs and send it when it does.',
    undefined,
    { cause: error },
  )
}
