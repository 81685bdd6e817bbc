/** Pages for people who are not signed in: one form in the middle, which works without scripts. */
export function PlainPage({
  title,
  lead,
  children,
}: {
  title: string
  lead: string
  children: React.ReactNode
}) {
  return (
    <main className="grid min-h-dvh place-items-center p-6">
      <div className="flex w-full max-w-[340px] flex-col gap-4">
        <div>
          <h1 className="text-[30px] leading-9">{title}</h1>
          <p className="mt-1 text-soft">{lead}</p>
        </div>
        {children}
      </div>
    </main>
  )
}
