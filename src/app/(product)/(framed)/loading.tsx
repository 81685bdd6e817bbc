/** What is shown on the way to a view. Not to attempts, which stand outside of this folder: at a hard load
 * React keeps what was read back for 300 ms once this was seen, and a failure has to be there at once. */
export default function Loading() {
  return (
    <div aria-busy="true" aria-label="Loading" className="animate-pulse">
      <div className="flex h-[49px] items-center gap-4 border-b border-line px-[18px]">
        <div className="h-5 w-44 rounded bg-line" />
        <div className="h-3.5 w-80 rounded bg-line/60" />
      </div>
      <div className="space-y-4 p-[18px]">
        {Array.from({ length: 9 }, (_, i) => (
          <div key={i} className="h-4 rounded bg-line/50" style={{ width: `${88 - ((i * 17) % 40)}%` }} />
        ))}
      </div>
    </div>
  )
}
