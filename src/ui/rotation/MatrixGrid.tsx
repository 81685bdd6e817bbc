'use client'
import type { EnvironmentRule } from '@/core/model'
import { levelOf } from '@/core/rota'
import { toggled, without } from './axes'
import type { BandProps } from './edit'

/** Browsers down, systems across: how many environments of each pair are picked. A row or column is taken in
 * or out by its name, a pair by its cell. */
export function MatrixGrid({ rotation: { where }, foreseen: { basis, outlook }, put }: BandProps) {
  const environments = basis?.environments ?? []
  const [browsers, systems] = [
    [...new Set(environments.map(({ browser }) => browser))],
    [...new Set(environments.map(({ os }) => os))],
  ]
  const isOn = (axis: 'browser' | 'os', level: string) => where.axes?.[axis]?.includes(level) ?? true
  const toggleAxis = (axis: 'browser' | 'os', level: string) => {
    const next = toggled(environments, where, axis, level)
    put(['where', 'axes'], { ...without(where.axes ?? {}, axis), ...(next && { [axis]: next }) })
  }
  const isPair = (rule: EnvironmentRule, browser: string, os: string) =>
    rule.browser?.length === 1 &&
    rule.os?.length === 1 &&
    rule.browser[0] === browser &&
    rule.os[0] === os &&
    Object.keys(rule).length === 2
  const toggleCell = (browser: string, os: string) => {
    const rest = where.never.filter((rule) => !isPair(rule, browser, os))
    const next = rest.length < where.never.length ? rest : [...where.never, { browser: [browser], os: [os] }]
    put(
      ['where', 'never'],
      next.length > 0
        ? next.map((rule) =>
            Object.fromEntries(
              Object.entries(rule).map(([axis, levels]) => [axis, levels.length === 1 ? levels[0] : levels]),
            ),
          )
        : undefined,
    )
  }
  const head = (on: boolean) =>
    `rounded-[4px] px-1 text-[13px] leading-[18px] hover:bg-act-wash ${on ? '' : 'text-soft line-through'}`
  return (
    <table
      aria-label="Environments by browser and system"
      data-field="where.axes"
      className="border-separate border-spacing-x-1.5 border-spacing-y-1"
    >
      <thead>
        <tr>
          <td />
          {systems.map((os) => (
            <th key={os} scope="col" className="font-normal" data-field="where.axes.os">
              <button
                type="button"
                aria-pressed={isOn('os', os)}
                onClick={() => toggleAxis('os', os)}
                className={head(isOn('os', os))}
              >
                {os}
              </button>
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {browsers.map((browser) => (
          <tr key={browser}>
            <th scope="row" className="pr-1 text-left font-normal" data-field="where.axes.browser">
              <button
                type="button"
                aria-pressed={isOn('browser', browser)}
                onClick={() => toggleAxis('browser', browser)}
                className={head(isOn('browser', browser))}
              >
                {browser}
              </button>
            </th>
            {systems.map((os) => {
              const there = environments.filter(
                (one) => levelOf(one, 'browser') === browser && levelOf(one, 'os') === os,
              )
              const picked = there.filter(({ key }) => outlook?.picked.keys.includes(key)).length
              const never = where.never.some((rule) => isPair(rule, browser, os))
              const words =
                `${browser} on ${os}: ` +
                `${there.length === 0 ? 'no environment' : `${picked} of ${there.length} picked${never ? ', never' : ''}`}`
              return (
                <td key={os} className="p-0">
                  {there.length === 0 ? (
                    <div
                      role="img"
                      aria-label={words}
                      title={words}
                      className="hatched h-[26px] min-w-[58px] rounded-[4px] border border-line/70"
                    />
                  ) : (
                    <button
                      type="button"
                      aria-label={words}
                      title={`${words}. Click: ${never ? 'allow it again' : 'never these two together'}`}
                      aria-pressed={picked > 0}
                      onClick={() => toggleCell(browser, os)}
                      className={
                        'block h-[26px] w-full min-w-[58px] rounded-[4px] border text-sm ' +
                        `${cellLook(picked, there.length, never)}`
                      }
                    >
                      {picked === 0 && never ? 'never' : picked || ''}
                    </button>
                  )}
                </td>
              )
            })}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function cellLook(picked: number, there: number, never: boolean): string {
  if (picked === 0) return never ? 'border-line bg-ground text-soft' : 'border-line bg-raised'
  return picked < there ? 'border-recovered bg-recovered-wash' : 'border-act bg-act-wash'
}
