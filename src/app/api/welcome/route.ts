import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { answerWelcome } from '@/server/people'

/** Sets the password a link is for; the link itself says who it is. */
export const POST = route((request) => answerWelcome(context(), request))
