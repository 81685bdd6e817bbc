/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useState } from 'react'
import { useKeys } from '../frame/keys'
import { TabList, TabPanel, Tabs } from './Tabs'

const TABS = [
  { key: 'day', label: 'Day' },
  { key: 'week', label: 'Week' },
  { key: 'list', label: 'List' },
] as const
type Key = (typeof TABS)[number]['key']

function Rota({ onRight = () => {} }: { onRight?: () => void }) {
  const [view, setView] = useState<Key>('day')
  useKeys([{ key: 'ArrowRight', what: 'the next start', run: onRight }])
  return (
    <Tabs<Key> value={view} onChange={setView}>
      <TabList label="The rota as" tabs={TABS} />
      <TabPanel value={view}>this is the {view}</TabPanel>
    </Tabs>
  )
}
const chosen = () => screen.getByRole('tab', { selected: true }).textContent

test('arrow keys go from tab to tab and around, Home and End to the ends; the panel follows', async () => {
  render(<Rota />)
  const user = userEvent.setup()
  await user.tab()
  expect(document.activeElement?.textContent).toBe('Day')
  await user.keyboard('{ArrowRight}')
  expect([chosen(), screen.getByRole('tabpanel').textContent]).toEqual(['Week', 'this is the week'])
  await user.keyboard('{End}')
  expect(chosen()).toBe('List')
  await user.keyboard('{ArrowRight}')
  expect(chosen()).toBe('Day')
  await user.keyboard('{ArrowLeft}{Home}')
  expect(chosen()).toBe('Day')
})

test('one stop for the tab key: the chosen tab, then the panel; each names the other', async () => {
  render(<Rota />)
  const user = userEvent.setup()
  await user.click(screen.getByRole('tab', { name: 'Week' }))
  expect(screen.getByRole('tablist', { name: 'The rota as' })).toBeTruthy()
  const panel = screen.getByRole('tabpanel', { name: 'Week' })
  expect(screen.getByRole('tab', { name: 'Week' }).getAttribute('aria-controls')).toBe(panel.id)
  await user.tab()
  expect(document.activeElement).toBe(panel)
})

test('a key that the tabs have used does not do what the view has it for', async () => {
  const onRight = jest.fn()
  render(<Rota onRight={onRight} />)
  const user = userEvent.setup()
  await user.keyboard('{ArrowRight}')
  expect(onRight).toHaveBeenCalledTimes(1)
  await user.tab()
  await user.keyboard('{ArrowRight}')
  expect(onRight).toHaveBeenCalledTimes(1)
})
