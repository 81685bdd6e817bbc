'use client'
import { X } from 'lucide-react'
import { useId } from 'react'
import { SCREEN_WAYS, TARGET_PLACES, TARGET_WAYS, TEXT_MATCHES, type Target } from '@/core/model'
import { Committed } from './Committed'
import { Select } from '../base/fields'
import { numberWritten } from '../edit/written'

const WAYS = [...TARGET_WAYS, ...SCREEN_WAYS]
const WAY_WORDS: Record<(typeof WAYS)[number], string> = {
  testId: 'test id',
  role: 'role',
  label: 'label',
  placeholder: 'placeholder',
  text: 'text',
  css: 'CSS',
  picture: 'picture',
  words: 'words seen',
}
/** How something on the page is found: one way or several, tried from the top. */
export function TargetFields({
  id,
  value = {},
  needed = false,
  onSet,
}: {
  id: string
  value?: Target | undefined
  /** One way at least has to stay. */
  needed?: boolean
  onSet(value: Target | undefined): void
}) {
  const used = WAYS.filter((way) => value[way] !== undefined)
  const free = WAYS.filter((way) => value[way] === undefined)
  const set = (next: Target) => {
    const { name, ...rest } = next
    const clean: Target = Object.fromEntries(
      Object.entries(rest).filter(([, given]) => given !== '' && given !== undefined),
    )
    const named = clean.role !== undefined && name ? { ...clean, name } : clean
    if (WAYS.some((way) => clean[way] !== undefined)) onSet(named)
    else if (!needed) onSet(undefined)
  }
  const rename = (from: string, to: string) =>
    set(Object.fromEntries(Object.entries(value).map(([way, given]) => [way === from ? to : way, given])))
  return (
    <div className="flex flex-col gap-1">
      {used.map((way, i) => (
        <div key={way} className="flex items-center gap-1.5">
          <Select
            {...(i === 0 && { id })}
            aria-label="Way to find it"
            width="w-28"
            value={way}
            onChoose={(chosen) => rename(way, chosen)}
          >
            {[way, ...free].map((one) => (
              <option key={one} value={one}>
                {WAY_WORDS[one]}
              </option>
            ))}
          </Select>
          <Committed
            label={WAY_WORDS[way]}
            value={value[way]!}
            needed={needed && used.length === 1}
            onCommit={(text) => set({ ...value, [way]: text })}
          />
          {way === 'role' && (
            <>
              <span className="text-xs text-soft">named</span>
              <Committed
                label="accessible name"
                value={value.name ?? ''}
                onCommit={(name) => set({ ...value, name })}
              />
            </>
          )}
          <button
            type="button"
            aria-label={`Take ${WAY_WORDS[way]} out`}
            className="p-1 text-soft hover:text-ink disabled:opacity-40"
            disabled={needed && used.length === 1}
            onClick={() => set({ ...value, [way]: '' })}
          >
            <X size={13} aria-hidden />
          </button>
        </div>
      ))}
      <TellApart value={value} off={used.length === 0} onSet={set}>
        <Select
          {...(used.length === 0 && { id })}
          aria-label="Another way to find it"
          width="w-auto"
          className="self-start border-dashed text-soft"
          value=""
          onChoose={(chosen) => set({ ...value, [chosen]: '?' })}
        >
          <option value="">{used.length === 0 ? 'not set' : 'another way, if these fail'}</option>
          {free.map((way) => (
            <option key={way} value={way}>
              {WAY_WORDS[way]}
            </option>
          ))}
        </Select>
      </TellApart>
    </div>
  )
}

const MATCH_WORDS = { whole: 'the same', part: 'part of it', pattern: 'pattern, * for any text' }
const APART_WORDS = {
  match: 'Texts are',
  number: 'Number',
  within: 'Within',
  beside: 'Beside',
  under: 'Under',
}
type Refinement = keyof typeof APART_WORDS
const REFINEMENTS = Object.keys(APART_WORDS) as Refinement[]
/** What each begins with. */
const FRESH: Target = {
  match: 'part',
  number: 1,
  ...Object.fromEntries(TARGET_PLACES.map((place) => [place, { text: '?' }])),
}

/** How one element is told from others like it: how texts are compared, its number, what it stands at.
 * @param off nothing is found yet
 * @param children what stands before the choice of another one */
function TellApart({
  value,
  off,
  onSet,
  children,
}: {
  value: Target
  off: boolean
  onSet(value: Target): void
  children: React.ReactNode
}) {
  const used = REFINEMENTS.filter((name) => value[name] !== undefined)
  const free = REFINEMENTS.filter((name) => value[name] === undefined)
  const without = (name: Refinement) =>
    onSet(Object.fromEntries(Object.entries(value).filter(([field]) => field !== name)))
  return (
    <>
      {used.map((name) => (
        <div key={name} className="flex items-start gap-1.5" role="group" aria-label={APART_WORDS[name]}>
          <span className="w-16 shrink-0 pt-1.5 text-xs text-soft">{APART_WORDS[name]}</span>
          <div className="min-w-0 flex-1">
            <Control name={name} value={value} onSet={onSet} />
          </div>
          <button
            type="button"
            aria-label={`Take ${APART_WORDS[name].toLowerCase()} out`}
            className="p-1 pt-2 text-soft hover:text-ink"
            onClick={() => without(name)}
          >
            <X size={13} aria-hidden />
          </button>
        </div>
      ))}
      <div className="flex flex-wrap gap-1.5">
        {children}
        {!off && free.length > 0 && (
          <Select
            aria-label="Tell it from others like it"
            width="w-auto"
            className="self-start border-dashed text-soft"
            value=""
            onChoose={(chosen) => onSet({ ...value, [chosen]: FRESH[chosen as Refinement] })}
          >
            <option value="">tell it apart</option>
            {free.map((name) => (
              <option key={name} value={name}>
                {APART_WORDS[name].toLowerCase()}
              </option>
            ))}
          </Select>
        )}
      </div>
    </>
  )
}

type ApartProps = { name: Refinement; value: Target; onSet(value: Target): void }

function Control({ name, value, onSet }: ApartProps) {
  const id = useId()
  switch (name) {
    case 'match':
      return (
        <Select
          aria-label="How texts are compared"
          width="w-48"
          value={value.match ?? 'whole'}
          onChoose={(match) => onSet({ ...value, match: match as Target['match'] })}
          choices={TEXT_MATCHES.map((match) => ({ value: match, label: MATCH_WORDS[match] }))}
        />
      )
    case 'number':
      return (
        <Committed
          label="which of those that are left; -1 is the last"
          narrow
          needed
          value={String(value.number ?? '')}
          onCommit={(written) => onSet({ ...value, number: numberWritten(written) as number })}
        />
      )
    default:
      return (
        <TargetFields
          id={id}
          value={value[name]}
          needed
          onSet={(place) => onSet({ ...value, [name]: place })}
        />
      )
  }
}
