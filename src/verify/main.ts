/** Checks the chain of the audit trail and says what it found. Run by ./oak verify audit, with the hash that
 * is expected at its end, if any. */
import { verifyAudit } from '@/server/audit'
import { makeContext } from '@/server/context'

const ctx = makeContext(process.env)
const [expected] = process.argv.slice(2)
const found = await verifyAudit(ctx)
await ctx.connection.close()

if (!found.sound) {
  console.error(
    `the audit trail was changed: ${found.why}. The ${found.lines} lines before it are as they were sealed.`,
  )
  process.exitCode = 1
} else if (expected !== undefined && expected !== found.head) {
  console.error(
    `the audit trail ends with ${found.head}, not with ${expected}: lines at its end are missing, or ` +
      'more were added since.',
  )
  process.exitCode = 1
} else {
  console.log(
    `the audit trail is sound: ${found.lines} lines, ${found.unsealed} not sealed yet; it ends with ` +
      `${found.head}`,
  )
}
