import type { Missing } from '@/core/model'

const PARTS = {
  application: 'applications',
  database: 'databases',
  secret: 'secrets',
  picture: 'pictures',
} as const

/** Where something that is missing is set up. */
export const placeToMend = ({ kind, key }: Missing): string =>
  kind === 'environment'
    ? '/fleet?show=environments'
    : `/settings?part=${PARTS[kind]}&name=${encodeURIComponent(key)}`
