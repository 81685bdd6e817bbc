export const percent = (part: number, of: number): string =>
  of === 0 ? '' : `${Math.round((100 * part) / of)} %`

/** Figures by what they are of; the first column names it. */
export function FigureTable({ head, children }: { head: readonly string[]; children: React.ReactNode }) {
  return (
    <table className="w-full text-sm">
      <thead>
        <tr>
          {head.map((words, i) => (
            <th
              key={words}
              scope="col"
              className={`pb-1 font-normal text-soft ${i === 0 ? 'text-left' : 'text-right'}`}
            >
              {words}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  )
}

export function Figure({ children }: { children: React.ReactNode }) {
  return <td className="py-1.5 text-right tabular-nums">{children}</td>
}
