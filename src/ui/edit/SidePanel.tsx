import { TabList, TabPanel, Tabs } from '../base/Tabs'

/** What stands beside that which is edited: one of several sides, chosen by tabs.
 * @param label what the tabs choose between
 * @param note stands after the tabs */
export function SidePanel<K extends string>({
  label,
  sides,
  side,
  onSide,
  note,
  children,
}: {
  label: string
  sides: readonly { key: K; name: string; count?: number }[]
  side: K
  onSide(side: K): void
  note?: React.ReactNode
  children: React.ReactNode
}) {
  return (
    <aside
      aria-label={sides.find(({ key }) => key === side)?.name}
      className="flex min-h-0 flex-col border-l border-line bg-surface"
    >
      <Tabs value={side} onChange={onSide}>
        <TabList
          label={label}
          look="wash"
          className="border-b border-line px-2 py-1.5"
          tabs={sides.map(({ key, name, count }) => ({
            key,
            label: count === undefined ? name : `${name} ${count}`,
          }))}
        >
          {note}
        </TabList>
        <TabPanel value={side} className="min-h-0 flex-1 overflow-auto">
          {children}
        </TabPanel>
      </Tabs>
    </aside>
  )
}
