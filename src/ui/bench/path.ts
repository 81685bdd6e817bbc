import type { BenchViewModel } from '@/core/view-models'

/** Where a definition is edited. */
export function benchPath(kind: BenchViewModel['kind'], key: string): string {
  const name = encodeURIComponent(key)
  if (kind === 'policy') return `/recovery?policy=${name}`
  if (kind === 'suite') return `/suites?suite=${name}`
  return `/${kind === 'data' ? 'tables' : `${kind}s`}/${name}`
}
