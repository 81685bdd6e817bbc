import type { DefinitionKind } from './definition'

/** The key a title suggests: small letters, digits and dashes; of a table with its ending. Empty when the
 * title has nothing to make one of. */
export function keyOfTitle(kind: DefinitionKind, title: string): string {
  const plain = title
    .trim()
    .toLowerCase()
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
  return kind === 'data' && plain ? `${plain}.csv` : plain
}
