'use client'
import { Field } from '../base/Field'
import { Select, TextField } from '../base/fields'
import type { Draft } from './environment-draft'

type Conditions = Pick<Draft, 'timeZone' | 'colours' | 'place' | 'camera' | 'userAgent'>

export const hasConditions = ({ timeZone, colours, place, camera, userAgent }: Conditions): boolean =>
  Boolean(timeZone || colours || place || camera || userAgent)

/** What pages are told of the place and the person. What an engine cannot be told is in docs/engines.md; an
 * attempt says so instead of running without. */
export function ConditionFields({
  draft: { title, timeZone = '', colours, place, camera = false, userAgent = '' },
  editable,
  onSet,
}: {
  draft: Conditions & Pick<Draft, 'title'>
  editable: boolean
  onSet(change: Partial<Conditions>): void
}) {
  return (
    <fieldset
      disabled={!editable}
      aria-label={`Conditions of ${title}`}
      className="grid grid-cols-[150px_130px_150px_auto_1fr] items-end gap-3 rounded-oak border border-line bg-surface p-2.5"
    >
      <Field label="Time zone">
        <TextField
          value={timeZone}
          placeholder="of the agent"
          list="environment-zones"
          onChange={({ target }) => onSet({ timeZone: target.value })}
        />
      </Field>
      <datalist id="environment-zones">
        {Intl.supportedValuesOf('timeZone').map((zone) => (
          <option key={zone} value={zone} />
        ))}
      </datalist>
      <Field label="Colours">
        <Select
          value={colours ?? ''}
          onChange={({ target }) => onSet({ colours: (target.value || undefined) as Conditions['colours'] })}
        >
          <option value="">as usual</option>
          <option value="light">light</option>
          <option value="dark">dark</option>
        </Select>
      </Field>
      <Field label="Location">
        <TextField
          value={place}
          placeholder="57.25, -6.5"
          onChange={({ target }) => onSet({ place: target.value })}
        />
      </Field>
      <label className="flex h-[28px] items-center gap-1.5 text-sm">
        <input
          type="checkbox"
          className="accent-[var(--act)]"
          checked={camera}
          onChange={({ target }) => onSet({ camera: target.checked })}
        />
        camera and microphone, made up
      </label>
      <Field label="User agent">
        <TextField
          mono
          value={userAgent}
          placeholder="what the browser says"
          onChange={({ target }) => onSet({ userAgent: target.value })}
        />
      </Field>
    </fieldset>
  )
}
