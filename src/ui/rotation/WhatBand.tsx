'use client'
import dynamic from 'next/dynamic'
import { NEWEST_BUILD, type RotationPart } from '@/core/model'
import { plural } from '@/core/view-models'
import { Committed } from '../bench/Committed'
import { NewName } from '../bench/NewName'
import { Band, Chip, Row } from './Band'
import type { BandProps } from './edit'
import { OnceSteps } from './OnceSteps'
import { Select, TextField } from '../base/fields'

const AddPart = dynamic(() => import('./AddPart').then((module) => module.AddPart), { ssr: false })

export function WhatBand({ rotation, viewModel, foreseen, editable, put, edit }: BandProps) {
  const { basis } = foreseen
  const { what } = rotation
  const setWhat = (parts: RotationPart[]) => put(['what'], parts)
  const move = (from: number, to: number) => setWhat(what.toSpliced(from, 1).toSpliced(to, 0, what[from]!))
  const cases = basis ? new Set(basis.items.filter(({ phase }) => !phase).map((item) => item.case)).size : 0
  const items = basis?.items.filter(({ phase }) => !phase).length ?? 0
  return (
    <Band
      title="What"
      field="what"
      hint={
        basis
          ? `${plural(cases, 'case')} from ` +
            `${plural(what.length, 'part')}${items === cases ? '' : `, ${items} with their rows`}`
          : 'suites, rules and cases'
      }
    >
      <ol aria-label="Parts, in the order they run" className="flex flex-wrap items-center gap-1.5">
        {what.map((part, i) => {
          const known = basis?.parts[i]
          const name = nameOf(part)
          return (
            <li
              key={`${i} ${name}`}
              data-field={`what.${i}`}
              draggable={editable}
              onDragStart={(event) => event.dataTransfer.setData('text/oak-part', String(i))}
              onDragOver={(event) => event.preventDefault()}
              onDrop={(event) => {
                const from = event.dataTransfer.getData('text/oak-part')
                if (from !== '' && editable) move(Number(from), i)
              }}
              onKeyDown={(event) => {
                const to = i + ({ ArrowLeft: -1, ArrowRight: 1 }[event.key] ?? NaN)
                if (event.altKey && editable && to >= 0 && to < what.length) {
                  event.preventDefault()
                  move(i, to)
                }
              }}
            >
              <Chip
                label={known?.title ?? name}
                mono={'rule' in part}
                wrong={known?.why}
                onRemove={editable ? () => setWhat(what.toSpliced(i, 1)) : undefined}
              >
                {known?.title ?? name}
                {known && !known.why && (
                  <span className="text-soft">
                    {'suite' in part && `, all ${known.items}`}
                    {'rule' in part && `  ${known.items}`}
                  </span>
                )}
                {known?.why && <span className="text-failed"> ({known.why})</span>}
              </Chip>
            </li>
          )
        })}
        {editable && (
          <li>
            <AddPart viewModel={viewModel} onAdd={(part) => setWhat([...what, part])} />
          </li>
        )}
      </ol>
      {basis && basis.leftOut.length > 0 && (
        <p className="text-sm text-soft">
          {plural(basis.leftOut.length, 'entry is', 'entries are')} left out:{' '}
          {basis.leftOut
            .slice(0, 3)
            .map(({ title, why }) => `${title} (${why})`)
            .join('; ')}
          {basis.leftOut.length > 3 && '…'}
        </p>
      )}
      <Row label="Build" field="build">
        <TextField
          aria-label="Build under test"
          list="rotation-builds"
          width="w-44"
          defaultValue={rotation.build}
          key={rotation.build}
          onBlur={({ target }) =>
            target.value.trim() !== rotation.build &&
            put(
              ['build'],
              target.value.trim() === NEWEST_BUILD || target.value.trim() === ''
                ? undefined
                : target.value.trim(),
            )
          }
        />
        <datalist id="rotation-builds">
          {viewModel.builds.map((build) => (
            <option key={build} value={build} />
          ))}
        </datalist>
        <span className="text-sm text-soft">
          {rotation.build === NEWEST_BUILD
            ? `the newest at each start${viewModel.builds[1] ? `, now ${viewModel.builds[1]}` : ''}`
            : 'this one at each start'}
        </span>
      </Row>
      {(viewModel.stages.length > 0 || rotation.stage !== undefined) && (
        <Row label="Stage" field="stage">
          <Select
            aria-label="Stage of the applications"
            width="w-44"
            value={rotation.stage ?? ''}
            onChoose={(stage) => put(['stage'], stage || undefined)}
            choices={viewModel.stages.map((stage) => ({ value: stage }))}
          >
            <option value="">usual addresses</option>
          </Select>
        </Row>
      )}
      <Row label="Once">
        <OnceSteps
          label="Before all"
          field="before"
          steps={rotation.before}
          offers={viewModel.offers}
          editable={editable}
          edit={edit}
          words="if it does not pass, nothing starts; what it hands off goes to every case"
        />
        <OnceSteps
          label="After all"
          field="after"
          steps={rotation.after}
          offers={viewModel.offers}
          editable={editable}
          edit={edit}
          words="when everything else is over"
        />
      </Row>
      <Parameters rotation={rotation} foreseen={foreseen} editable={editable} put={put} />
    </Band>
  )
}

/** Values of this rotation, and those the cases get from elsewhere, with where. */
function Parameters({
  rotation,
  foreseen: { basis },
  editable,
  put,
}: Pick<BandProps, 'rotation' | 'foreseen' | 'editable' | 'put'>) {
  const own = Object.entries(rotation.with)
  const others = (basis?.parameters ?? []).filter(({ name }) => !(name in rotation.with))
  const set = (name: string, value: string | undefined) =>
    put(['with', name], value === '' ? undefined : value)
  return (
    <Row label="Values" field="with">
      {own.map(([name, value]) => (
        <label key={name} className="inline-flex items-center gap-1.5">
          <span className="font-mono text-xs">{name}</span>
          <span className="w-32">
            <Committed label={`Value of ${name}`} value={value} onCommit={(text) => set(name, text)} />
          </span>
        </label>
      ))}
      {editable && (
        <NewName
          label="Values"
          hint="new value: its name"
          taken={own.map(([name]) => name)}
          onAdd={(name) => set(name, others.find((one) => one.name === name)?.value ?? '?')}
        />
      )}
      {others.length > 0 && (
        <details className="text-sm open:w-full">
          <summary className="text-soft">{plural(others.length, 'value')} from suites and cases</summary>
          <table className="mt-1 w-full max-w-[560px]">
            <tbody>
              {others.map(({ name, value, from, cases }) => (
                <tr key={`${name} ${value} ${from}`} className="border-b border-line/60">
                  <td className="py-0.5 pr-3 font-mono text-xs">{name}</td>
                  <td className="max-w-[200px] truncate pr-3">{value}</td>
                  <td className="pr-3 text-soft">from {from}</td>
                  <td className="text-right text-soft">{plural(cases, 'time')}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      )}
    </Row>
  )
}

function nameOf(part: RotationPart): string {
  if ('suite' in part) return part.suite
  return 'rule' in part ? part.rule : part.case
}
