'use client'
import { Tabs as Radix } from 'radix-ui'

type Tab<K extends string> = { key: K; label: React.ReactNode }

/** A list of tabs and the panel of the chosen one, anywhere inside. Arrow keys, Home and End go from tab to
 * tab. It has no box of its own. */
export function Tabs<K extends string>({
  value,
  onChange,
  children,
}: {
  value: K
  onChange(value: K): void
  children: React.ReactNode
}) {
  return (
    <Radix.Root value={value} onValueChange={(next) => onChange(next as K)} className="contents">
      {children}
    </Radix.Root>
  )
}

const LOOKS = {
  line:
    'border-b-2 border-transparent px-2.5 py-1 text-soft hover:text-ink ' +
    'data-[state=active]:border-act data-[state=active]:font-semibold data-[state=active]:text-ink',
  wash:
    'rounded-oak px-2.5 py-0.5 text-soft hover:text-ink data-[state=active]:bg-act-wash ' +
    'data-[state=active]:font-semibold data-[state=active]:text-ink',
}

/** @param label what is chosen between
 * @param children stands after the tabs */
export function TabList<K extends string>({
  label,
  tabs,
  look = 'line',
  className = '',
  children,
}: {
  label: string
  tabs: readonly Tab<K>[]
  look?: keyof typeof LOOKS
  className?: string
  children?: React.ReactNode
}) {
  return (
    <div className={`flex items-center ${className}`}>
      <Radix.List aria-label={label} className="flex min-w-0 flex-wrap gap-x-1">
        {tabs.map((tab) => (
          <Radix.Trigger key={tab.key} value={tab.key} className={`text-sm whitespace-nowrap ${LOOKS[look]}`}>
            {tab.label}
          </Radix.Trigger>
        ))}
      </Radix.List>
      {children}
    </div>
  )
}

/** What the chosen tab shows. */
export function TabPanel({
  value,
  className,
  children,
}: {
  value: string
  className?: string
  children: React.ReactNode
}) {
  return (
    <Radix.Content value={value} className={className}>
      {children}
    </Radix.Content>
  )
}
