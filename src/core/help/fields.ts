/** Help for fields of files: what each says, in a page for each thing that has fields, and one by one for the
 * editor. */
import type { DefinitionKind } from '../model'
import { FIELD_TABLES } from './field-tables'
import type { HelpPage } from './pages'

export type FieldHelp = { field: string; form: string; says: string; example: string }
export type FieldSection = keyof typeof FIELD_TABLES

const read = (table: string): FieldHelp[] =>
  table
    .trim()
    .replaceAll(/\n {2}/g, ' ')
    .split('\n')
    .map((line) => {
      const [field = '', form = '', says = '', ...example] = line.split(' | ')
      return { field, form, says, example: example.join(' | ') }
    })

export const FIELD_HELP = Object.fromEntries(
  Object.entries(FIELD_TABLES).map(([section, table]) => [section, read(table)]),
) as Record<FieldSection, FieldHelp[]>

/** What has fields, in files of each kind: what is nearest to the whole first. */
const SECTIONS_OF: Partial<Record<DefinitionKind, readonly FieldSection[]>> = {
  case: ['case', 'step', 'check', 'target', 'matcher', 'role', 'attribute'],
  routine: ['routine', 'step', 'check', 'target', 'matcher', 'attribute'],
  suite: ['suite', 'entry'],
  rotation: ['rotation'],
  policy: ['policy', 'recovery rule', 'step', 'check', 'target', 'matcher'],
}

/** @param name as it stands in a file of this kind; of several fields of that name the one nearest to the
 * whole */
export function helpOfField(kind: DefinitionKind, name: string): FieldHelp | undefined {
  const all = (SECTIONS_OF[kind] ?? []).flatMap((section) => FIELD_HELP[section])
  return (
    all.find(({ field }) => field === name) ??
    all.find(({ field }) => field.slice(field.lastIndexOf('.') + 1) === name)
  )
}

const A: Partial<Record<FieldSection, string>> = { attribute: 'an attribute', entry: 'an entry' }
const lineOf = ({ field, form, says, example }: FieldHelp): string =>
  [`- **${field}**`, form && ` (${form})`, `: ${says}. \`${example}\``].filter(Boolean).join('')

export const FIELD_PAGES: readonly HelpPage[] = (Object.keys(FIELD_HELP) as FieldSection[]).map(
  (section) => ({
    key: `fields-${section.replace(' ', '-')}`,
    title: `Fields of ${A[section] ?? `a ${section}`}`,
    text: FIELD_HELP[section].map(lineOf).join('\n'),
  }),
)
