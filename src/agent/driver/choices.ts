import { DriverFault } from './port'

export type ChoiceList = { several: boolean; options: readonly { label: string; value: string }[] }

/** Values of the options of a list that have these labels or values.
 * @throws {DriverFault} target: there is none, or the list takes one only */
export function chosenOf({ several, options }: ChoiceList, wanted: readonly string[]): string[] {
  if (wanted.length > 1 && !several) throw new DriverFault('target', 'this list takes one choice only')
  return wanted.map((option) => {
    const found = options.find(({ label, value }) => label === option || value === option)
    if (found) return found.value
    const labels = options.map(({ label }) => label).join(', ')
    throw new DriverFault('target', `there is no choice “${option}”; there is: ${labels}`)
  })
}
