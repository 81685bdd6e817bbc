'use client'
import { useRouter } from '../base/opening'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { toast } from 'sonner'
import { describeDuration, RETRIES_MOST, USUAL_RETRIES } from '@/core/model'
import { plural, type StartOptions } from '@/core/view-models'
import { api, useViewModel, type ApiProblem } from '../api'
import { Button } from '../base/Button'
import { Dialog } from '../base/Dialog'
import { Problem, Simulated } from '../base/Parts'
import { RuleField, useRule } from '../suites/RuleField'
import { usualEnvironments } from './usual'
import { OneOf } from '../base/ToggleGroup'
import { guidedBy, WhoDoes, type Doers } from './WhoDoes'
import { ForecastLine } from './ForecastLine'
import { Select, TextField, titled } from '../base/fields'
import { Field } from '../base/Field'

type Form = {
  suite: string
  rule: string
  environments: string[]
  build: string
  stage: string
  retries: string
  limit: string
  title: string
  by: 'agents' | 'people'
  doers: Doers
}

const MINUTE_MS = 60_000
/** Stands in the list of suites for a rule; no suite has such a key. */
const BY_RULE = ':rule'
/** The same for a single case, with its key behind. */
const CASE = ':case '

/** Choose what, where and which build; see what it comes to before it starts. */
export function StartDialog({ suite, onClose }: { suite?: string; onClose(): void }) {
  const { data: options } = useViewModel<StartOptions>('/api/start-options', ['definitions', 'fleet'])
  return (
    <Dialog open onClose={onClose} title="Start a run" wide>
      {!options && <div className="h-[340px] animate-pulse rounded-oak bg-ground" />}
      {options && options.suites.length + options.cases.length === 0 && (
        <p className="text-soft">
          There is no suite and no case yet. Make one, or read a repository with some first.
        </p>
      )}
      {options && options.suites.length + options.cases.length > 0 && (
        <StartForm options={options} suite={suite} onClose={onClose} />
      )}
    </Dialog>
  )
}

function StartForm({ options, suite, onClose }: { options: StartOptions; suite?: string; onClose(): void }) {
  const router = useRouter()
  const [problem, setProblem] = useState<string>()
  const {
    register,
    handleSubmit,
    watch,
    setValue,
    formState: { errors, isSubmitting },
  } = useForm<Form>({
    defaultValues: {
      suite: suite ?? options.suites[0]?.key ?? `${CASE}${options.cases[0]!.key}`,
      environments: usualEnvironments(options.environments),
      build: options.builds[0] ?? '',
      stage: '',
      retries: String(USUAL_RETRIES),
      limit: '2',
      title: '',
      rule: 'smoke',
      by: 'agents',
      doers: {},
    },
  })
  const [chosenSuite, environments] = [watch('suite'), watch('environments') || []]
  const rule = watch('rule')
  const byRule = chosenSuite === BY_RULE
  const retries = watch('retries')
  const [by, doers] = [watch('by'), watch('doers')]
  const byHand = by === 'people'
  const nobody = byHand && Object.keys(doers).length === 0
  const { data: ruled, problem: ruleProblem } = useRule(byRule ? rule : '')
  const size = byRule
    ? ruled && { ...ruled, title: rule }
    : options.suites.find(({ key }) => key === chosenSuite)
  const seats = options.environments.filter(({ key }) => environments.includes(key))
  const unserved = byHand ? [] : seats.filter((environment) => environment.seats === 0)
  const toggle = (key: string) =>
    setValue(
      'environments',
      environments.includes(key) ? environments.filter((other) => other !== key) : [...environments, key],
    )

  const submit = handleSubmit(
    async ({ retries, limit, title, build, stage, suite: what, rule: text, environments: where }) => {
      setProblem(undefined)
      try {
        const { id } = await api<{ id: number }>('/api/runs', {
          method: 'POST',
          body: {
            ...whatOf(what, text),
            environments: where,
            build: build.trim(),
            ...(stage && { stage }),
            retries: Number(retries),
            limitMs: Math.round(Number(limit) * MINUTE_MS),
            ...(title.trim() && { title: title.trim() }),
            ...(byHand && { guided: guidedBy(doers) }),
          },
        })
        toast(byHand ? 'Its cases wait for their people' : 'The run has started')
        onClose()
        router.push(`/runs/${id}`)
      } catch (error) {
        setProblem((error as ApiProblem).message)
      }
    },
  )
  return (
    <form onSubmit={(event) => void submit(event)} className="flex flex-col gap-4">
      <div className={`grid gap-4 ${options.stages.length > 0 ? 'grid-cols-[2fr_2fr_1fr]' : 'grid-cols-2'}`}>
        <Field label={options.suites.length > 0 ? 'Suite' : 'Case'}>
          <Select
            size="tall"
            {...register('suite')}
            choices={[
              ...titled(options.suites),
              ...options.cases.map(({ key, title }) => ({ value: `${CASE}${key}`, label: title })),
              { value: BY_RULE, label: 'Cases by a rule' },
            ]}
          />
        </Field>
        <Field label="Build under test" error={errors.build?.message}>
          <TextField
            size="tall"
            list="builds"
            autoComplete="off"
            {...register('build', {
              required: 'Say which build',
              pattern: {
                value: /^\s*[A-Za-z0-9][A-Za-z0-9._-]*\s*$/,
                message: 'Letters, digits, dots and dashes',
              },
            })}
          />
          <datalist id="builds">
            {options.builds.map((build) => (
              <option key={build} value={build} />
            ))}
          </datalist>
        </Field>
        {options.stages.length > 0 && (
          <Field label="Stage">
            <Select
              size="tall"
              {...register('stage')}
              choices={options.stages.map((stage) => ({ value: stage }))}
            >
              <option value="">usual</option>
            </Select>
          </Field>
        )}
      </div>
      {byRule && <RuleField live value={rule} onChange={(text) => setValue('rule', text)} />}
      <div className="flex items-center gap-3">
        <span className="label">Done by</span>
        <OneOf
          label="Done by"
          value={by}
          onChoose={(value) => setValue('by', value)}
          choices={[
            ['agents', 'agents'],
            ['people', 'people, by hand'],
          ]}
        />
      </div>
      <fieldset>
        <legend className="label mb-1">Environments</legend>
        <div className="grid grid-cols-3 gap-1.5">
          {options.environments.map(({ key, title, simulated, seats: free }) => (
            <label
              key={key}
              className={
                'flex cursor-pointer items-center gap-2 rounded-oak border px-2.5 py-1.5 ' +
                `${environments.includes(key) ? 'border-act bg-act-wash' : 'border-line'}`
              }
            >
              <input
                type="checkbox"
                className="accent-[var(--act)]"
                checked={environments.includes(key)}
                onChange={() => toggle(key)}
              />
              <span className="min-w-0 flex-1 truncate text-sm">{title}</span>
              {!byHand && (
                <span className={`text-xs ${free === 0 ? 'text-failed' : 'text-soft'}`}>
                  {free === 0 ? 'no agent' : plural(free, 'seat')}
                </span>
              )}
              {simulated && <Simulated short />}
            </label>
          ))}
        </div>
      </fieldset>
      {byHand && (
        <WhoDoes
          people={options.people}
          environments={seats}
          doers={doers}
          onChange={(chosen) => setValue('doers', chosen)}
        />
      )}
      <div className={`grid gap-4 ${byHand ? 'grid-cols-1' : 'grid-cols-3'}`}>
        <Field label="Retries of what fails" className={byHand ? 'hidden' : ''}>
          <Select size="tall" {...register('retries')}>
            <option value="0">none</option>
            {Array.from({ length: RETRIES_MOST }, (_, i) => (
              <option key={i} value={i + 1}>
                {i + 1}
              </option>
            ))}
          </Select>
        </Field>
        <Field
          label="Limit of a case, minutes"
          error={errors.limit?.message}
          className={byHand ? 'hidden' : ''}
        >
          <TextField
            size="tall"
            inputMode="decimal"
            {...register('limit', {
              validate: (text) => (Number(text) >= 0.1 && Number(text) <= 60) || 'Between 0.1 and 60 minutes',
            })}
          />
        </Field>
        <Field label="Name of the run">
          <TextField size="tall" placeholder={size?.title} maxLength={120} {...register('title')} />
        </Field>
      </div>
      {unserved.length > 0 && (
        <Problem>
          No live agent serves {unserved.map(({ title }) => title).join(', ')}. Start an agent that does, or
          leave it out.
        </Problem>
      )}
      {problem && <Problem>{problem}</Problem>}
      <div className="flex items-center justify-between gap-4 border-t border-line pt-4">
        <ForecastLine
          what={whatOf(chosenSuite, rule)}
          environments={environments}
          retries={Number(retries)}
          off={
            byHand ||
            environments.length === 0 ||
            unserved.length > 0 ||
            (byRule && (!!ruleProblem || !ruled?.count))
          }
          otherwise={
            size && environments.length > 0
              ? sizeWords(size, environments.length, byHand)
              : 'Choose at least one environment'
          }
        />
        <Button
          look="main"
          type="submit"
          disabled={
            isSubmitting ||
            environments.length === 0 ||
            nobody ||
            unserved.length > 0 ||
            (byRule && (!!ruleProblem || !ruled || ruled.count === 0))
          }
        >
          Start
        </Button>
      </div>
    </form>
  )
}

function sizeWords(
  { caseRuns, estimateMs }: { caseRuns: number; estimateMs: number },
  environments: number,
  byHand: boolean,
): string {
  const count = plural(caseRuns * environments, 'case run')
  if (byHand) return `${count}, spread over those who do them`
  return `${count}, about ${describeDuration(estimateMs * environments)} of work`
}

/** What a start names. @param chosen of the list of suites */
function whatOf(chosen: string, rule: string): { rule: string } | { cases: string[] } | { suite: string } {
  if (chosen === BY_RULE) return { rule: rule.trim() }
  return chosen.startsWith(CASE) ? { cases: [chosen.slice(CASE.length)] } : { suite: chosen }
}
