import { Gate } from '../work'

/** A report is put together in memory, so few are at once. */
export const reporting = new Gate(2, 20)

/** A report to be saved: opened in place of it, it could do nothing. */
export const asFile = (content: string | Uint8Array, type: string, name: string): Response =>
  new Response(typeof content === 'string' ? content : new Uint8Array(content), {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${name}"`,
      'x-content-type-options': 'nosniff',
      'content-security-policy': "default-src 'none'; img-src data:; style-src 'unsafe-inline'; sandbox",
      'cache-control': 'private, no-store',
    },
  })
