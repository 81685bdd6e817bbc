import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { serveShared } from '@/server/reports/shared'

/** For whoever has the address; nobody signs in. */
export const GET = route<{ token: string }>((_, { token }) => serveShared(context(), token))
