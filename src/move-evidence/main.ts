/** Takes evidence from one store to another. Run by ./oak evidence move, with both, and “delete” where the
 * first is to be emptied. Ctrl-C stops it after what is in hand; the same again goes on. */
import { makeContext } from '@/server/context'
import { evidenceStoreAt, moveEvidence, type Moved } from '@/server/evidence'

const [from = '', to = '', deletes] = process.argv.slice(2)
let stopped = false
process.on('SIGINT', () => {
  stopped = true
})

function words({ copied, wereThere, bytes }: Moved): string {
  return `${copied} pieces (${(bytes / 1e6).toFixed(1)} MB) copied, ${wereThere} were there`
}

try {
  const ctx = makeContext(process.env)
  const place = { home: ctx.home, env: process.env }
  const stores = [evidenceStoreAt(from, place), evidenceStoreAt(to, place)] as const
  const moved = await moveEvidence(ctx, ...stores, {
    removes: deletes === 'delete',
    isStopped: () => stopped,
    say: (soFar) => console.error(words(soFar)),
  })
  await ctx.connection.close()
  console.log(words(moved))
  if (moved.missing > 0) console.log(`${moved.missing} are in neither store: they were lost before`)
  if (moved.damaged > 0)
    console.log(`${moved.damaged} are not what their name says, and were left: their file was changed`)
  if (stopped) console.log('stopped: the same command goes on from here')
  else if (deletes !== 'delete')
    console.log(
      `Now stop the product, set OAK_EVIDENCE=${to}, and say the same with --delete for what came meanwhile`,
    )
  process.exitCode = stopped || moved.damaged > 0 ? 1 : 0
} catch (error) {
  console.error(`oak: ${(error as Error).message}`)
  process.exitCode = 1
}
