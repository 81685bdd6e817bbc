'use client'
import dynamic from 'next/dynamic'
import type { Axis, Environment, EnvironmentRule, RotationWhere, Spread } from '@/core/model'
import { lanesOfPlan, levelOf } from '@/core/rota'
import { plural } from '@/core/view-models'
import { Simulated } from '../base/Parts'
import { AnyOf, OneOf } from '../base/ToggleGroup'
import { Band, Chip, Row } from './Band'
import { pickingOf, toggled, without } from './axes'
import type { BandProps } from './edit'
import { coverWords, ruleSentence } from './words'
import { Select } from '../base/fields'

const MatrixGrid = dynamic(() => import('./MatrixGrid').then((module) => module.MatrixGrid), { ssr: false })
const LaneTable = dynamic(() => import('./LaneTable').then((module) => module.LaneTable), { ssr: false })
const AddRule = dynamic(() => import('./AddRule').then((module) => module.AddRule), { ssr: false })

const SPREAD_WORDS: readonly (readonly [Spread, string])[] = [
  ['split', 'split over all'],
  ['sequence', 'one after another'],
  ['everywhere', 'everywhere'],
  ['assigned', 'by hand'],
]
const COVER_WORDS = [
  ['all', 'all'],
  ['pairs', 'pairs'],
  ['triples', 'triples'],
] as const
const SPREAD_HINTS: Record<Spread, string> = {
  split: 'each seat takes the next thing',
  sequence: 'all of it on one seat',
  everywhere: 'every agent that can does all of it',
  assigned: 'each case on the agent it is given to',
}

export function WhereBand(props: BandProps) {
  const {
    rotation: { where },
    foreseen: { basis, outlook },
    editable,
    put,
  } = props
  const environments = basis?.environments ?? []
  const hint = outlook ? pickedWords(outlook.picked, where.cover) : 'environments and seats'
  const byName = where.environments !== undefined
  // The picked ones stay picked when one goes from one way of naming them to the other.
  const turn = () =>
    put(
      ['where'],
      fileWhere(
        where,
        byName
          ? pickingOf(
              environments.filter(({ key }) => where.environments!.includes(key)),
              environments,
            )
          : {
              environments: outlook?.picked.keys.length
                ? outlook.picked.keys
                : environments.slice(0, 1).map(({ key }) => key),
            },
      ),
    )
  // By hand begins from what the plan has.
  const lanesFor = (spread: Spread) => {
    if (spread !== 'assigned') return {}
    const isGiven = Object.keys(where.lanes).length > 0
    return isGiven || !outlook || !basis ? where.lanes : lanesOfPlan(outlook, basis)
  }
  return (
    <Band title="Where" field="where" hint={hint}>
      {byName ? <NamedEnvironments {...props} /> : <ByAxes {...props} />}
      <Row label="Pool" field="where.pool">
        <PoolChoice {...props} />
        <label className="ml-1 flex items-center gap-2 text-sm" data-field="where.leaveOut">
          <input
            type="checkbox"
            className="accent-[var(--act)]"
            checked={where.leaveOut}
            onChange={({ target }) => put(['where', 'leaveOut'], target.checked || undefined)}
          />
          leave out what has no place, and run the rest
        </label>
        {editable && (
          <button type="button" onClick={turn} className="ml-auto text-sm text-act underline">
            {byName ? 'Pick by what they are' : 'Name them one by one'}
          </button>
        )}
      </Row>
      <Row label="Spread" field="where.spread">
        <OneOf
          label="Spread"
          value={where.spread}
          choices={SPREAD_WORDS}
          onChoose={(spread) => put(['where'], fileWhere(where, { spread, lanes: lanesFor(spread) }))}
        />
        <span className="text-sm text-soft">{SPREAD_HINTS[where.spread]}</span>
      </Row>
      {where.spread === 'assigned' && <LaneTable {...props} />}
    </Band>
  )
}

/** The whole of `where` in the form its file has, with changes. */
function fileWhere(where: RotationWhere, change: Partial<RotationWhere>): Record<string, unknown> {
  const { environments, axes, cover, never, always, pool, spread, leaveOut, lanes } = {
    ...where,
    ...('axes' in change ? { environments: undefined } : {}),
    ...('environments' in change ? { axes: undefined } : {}),
    ...change,
  }
  return {
    ...(environments && { environments }),
    ...(axes && { axes }),
    ...(cover !== 'all' && axes && { cover }),
    ...(never.length > 0 && axes && { never }),
    ...(always.length > 0 && axes && { always }),
    ...(pool !== undefined && { pool }),
    ...(spread !== 'split' && { spread }),
    ...(leaveOut && { leaveOut }),
    ...(Object.keys(lanes).length > 0 && { lanes }),
  }
}

function NamedEnvironments({ rotation: { where }, foreseen: { basis }, editable, put }: BandProps) {
  const chosen = where.environments ?? []
  const toggle = (key: string) => {
    const next = chosen.includes(key) ? chosen.filter((one) => one !== key) : [...chosen, key]
    if (next.length > 0) put(['where', 'environments'], next)
  }
  const unknown = basis ? chosen.filter((key) => !basis.environments.some((one) => one.key === key)) : []
  return (
    <div
      className="flex flex-wrap gap-1.5"
      role="group"
      aria-label="Environments"
      data-field="where.environments"
    >
      {(basis?.environments ?? []).map(({ key, title, simulated }) => {
        const seats = basis!.agents
          .filter(
            (agent) =>
              agent.environments.includes(key) && (where.pool === undefined || agent.pool === where.pool),
          )
          .reduce((sum, agent) => sum + agent.seats, 0)
        return (
          <label
            key={key}
            className={
              'flex cursor-pointer items-center gap-1.5 rounded-oak border px-2 py-[3px] text-sm ' +
              `${chosen.includes(key) ? 'border-act bg-act-wash' : 'border-line bg-raised'}`
            }
          >
            <input
              type="checkbox"
              className="accent-[var(--act)]"
              checked={chosen.includes(key)}
              onChange={() => toggle(key)}
            />
            {title}{' '}
            <span className={`text-xs ${seats === 0 ? 'text-failed' : 'text-soft'}`}>
              {seats === 0 ? 'no seat' : plural(seats, 'seat')}
            </span>
            {simulated && <Simulated short />}
          </label>
        )
      })}
      {unknown.map((key) => (
        <Chip
          key={key}
          label={key}
          wrong="there is no such environment"
          onRemove={editable ? () => toggle(key) : undefined}
        >
          {key}
        </Chip>
      ))}
    </div>
  )
}

function ByAxes(props: BandProps) {
  const {
    rotation: { where },
    foreseen: { basis, outlook },
    editable,
    put,
  } = props
  const environments = basis?.environments ?? []
  return (
    <div className="grid grid-cols-[auto_minmax(180px,1fr)] items-start gap-x-6 gap-y-2">
      <MatrixGrid {...props} />
      <div className="flex flex-col gap-2 text-sm">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <AxisToggles axis="screen" word="Screens" {...props} />
          <AxisToggles axis="locale" word="locales" {...props} />
        </div>
        <div data-field="where.cover" className="flex flex-wrap items-center gap-2">
          <OneOf
            label="Cover"
            value={where.cover}
            choices={COVER_WORDS}
            onChoose={(cover) => put(['where', 'cover'], cover === 'all' ? undefined : cover)}
          />
        </div>
        {outlook && (
          <p role="status" className="text-soft">
            {coverWords(outlook, where.cover)}
          </p>
        )}
        <div className="flex flex-wrap gap-x-3 gap-y-1.5">
          <Rules
            word="Never"
            field="where.never"
            rules={where.never}
            environments={environments}
            editable={editable}
            onSet={(rules) => put(['where', 'never'], rules)}
          />
          <Rules
            word="Always"
            field="where.always"
            rules={where.always}
            environments={environments}
            editable={editable}
            onSet={(rules) => put(['where', 'always'], rules)}
          />
        </div>
      </div>
    </div>
  )
}

function AxisToggles({
  axis,
  word,
  rotation: { where },
  foreseen: { basis },
  put,
}: BandProps & { axis: Axis; word: string }) {
  const environments = basis?.environments ?? []
  const levels = [...new Set(environments.map((one) => levelOf(one, axis)))]
  return (
    <span className="inline-flex flex-wrap items-center gap-1" data-field={`where.axes.${axis}`}>
      {word}
      <AnyOf
        label={word}
        chosen={where.axes?.[axis] ?? levels}
        choices={levels.map((level) => [level, level.replace('x', axis === 'screen' ? ' × ' : 'x')] as const)}
        onChange={(_, level) => {
          const next = toggled(environments, where, axis, level)
          put(['where', 'axes'], { ...without(where.axes ?? {}, axis), ...(next && { [axis]: next }) })
        }}
      />
    </span>
  )
}

type RulesProps = {
  word: string
  field: string
  rules: EnvironmentRule[]
  environments: readonly Environment[]
  editable: boolean
  onSet(rules: EnvironmentRule[] | undefined): void
}

function Rules({ word, field, rules, environments, editable, onSet }: RulesProps) {
  const set = (next: EnvironmentRule[]) => onSet(next.length > 0 ? next : undefined)
  return (
    <div className="flex flex-wrap items-center gap-1.5" data-field={field}>
      {rules.length > 0 && <span className="text-soft">{word}</span>}
      {rules.map((rule, i) => (
        <Chip
          key={i}
          label={`${word.toLowerCase()} ${ruleSentence(rule)}`}
          onRemove={editable ? () => set(rules.toSpliced(i, 1)) : undefined}
        >
          {ruleSentence(rule)}
        </Chip>
      ))}
      {editable && (
        <AddRule word={word} environments={environments} onAdd={(rule) => set([...rules, rule])} />
      )}
    </div>
  )
}

function PoolChoice({ rotation: { where }, viewModel, foreseen: { basis }, put }: BandProps) {
  const pools = [...new Set([...viewModel.pools, ...(where.pool === undefined ? [] : [where.pool])])]
  const seats = (pool: string) =>
    (basis?.agents ?? []).filter((agent) => agent.pool === pool).reduce((sum, agent) => sum + agent.seats, 0)
  return (
    <Select
      aria-label="Pool"
      width="w-56"
      value={where.pool ?? ''}
      onChoose={(chosen) => put(['where', 'pool'], chosen || undefined)}
    >
      <option value="">any that serves them</option>
      {pools.map((pool) => (
        <option key={pool} value={pool}>
          {pool}, {plural(seats(pool), 'seat')}
        </option>
      ))}
    </Select>
  )
}

const pickedWords = ({ keys, possible }: { keys: readonly string[]; possible: number }, cover: string) =>
  keys.length === possible
    ? plural(possible, 'environment')
    : `${keys.length} of ${plural(possible, 'environment')}, by ${cover}`
