/** What a view says when it has nothing to show: what it is for, and the one thing to do. */
export function Empty({
  title,
  children,
  action,
}: {
  title: string
  children: React.ReactNode
  action?: React.ReactNode
}) {
  return (
    <div className="mx-auto flex max-w-[460px] flex-col items-start gap-3 px-6 py-14" data-state="empty">
      <h2 className="font-display text-lg">{title}</h2>
      <p className="text-soft">{children}</p>
      {action}
    </div>
  )
}

/** The title line of a view: what this is, its key facts as words, its actions. */
export function TitleLine({
  title,
  facts,
  children,
}: {
  title: string
  facts?: React.ReactNode
  children?: React.ReactNode
}) {
  return (
    <header className="flex min-h-[49px] items-center gap-4 border-b border-line px-[18px] py-2">
      <h1 className="min-w-0 shrink-0 truncate">{title}</h1>
      <p className="min-w-0 flex-1 truncate text-soft">{facts}</p>
      <div className="flex shrink-0 items-center gap-2">{children}</div>
    </header>
  )
}

/** Marks an agent or environment that is made up. */
export const Simulated = ({ short = false }: { short?: boolean }) => (
  <span className="text-xs text-soft italic">{short ? 'sim.' : 'simulated'}</span>
)

export function Problem({ children }: { children: React.ReactNode }) {
  return (
    <p role="alert" className="rounded-oak border border-failed/40 bg-failed-wash px-3 py-2 text-sm">
      {children}
    </p>
  )
}
