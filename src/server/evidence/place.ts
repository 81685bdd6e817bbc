/** Where evidence is kept: in files, or in an S3-compatible store. */
import { join } from 'node:path'
import { s3EvidenceStore } from './s3-store'
import { fileEvidenceStore, type EvidenceStore } from './store'

const BUCKET = /^[a-z0-9][a-z0-9.-]{1,61}[a-z0-9]$/
const REGION = 'us-east-1'

/** @param address `s3://bucket/prefix`, or `files`; absent: files
 * @param home whose folder `evidence` has the files
 * @throws {Error} the address is none, in a sentence */
export function evidenceStoreAt(
  address: string | undefined,
  { home, env }: { home: string; env: Readonly<Record<string, string | undefined>> },
): EvidenceStore {
  if (address === undefined || address === '' || address === 'files')
    return fileEvidenceStore(join(home, 'evidence'))
  const [, bucket = '', prefix = ''] = /^s3:\/\/([^/]+)(?:\/(.*?))?\/*$/.exec(address) ?? []
  if (!BUCKET.test(bucket))
    throw new Error(`“${address}” is no place for evidence: it is s3://bucket/prefix, or files`)
  const endpoint = env.AWS_ENDPOINT_URL_S3 ?? env.AWS_ENDPOINT_URL
  return s3EvidenceStore({ bucket, prefix, region: env.AWS_REGION ?? REGION, ...(endpoint && { endpoint }) })
}
