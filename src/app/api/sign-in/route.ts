import { context } from '@/server/context'
import { route } from '@/server/http/route'
import { answerSignIn } from '@/server/people'

/** By JSON, or by the form of the sign-in page: that one works before any script has come. */
export const POST = route((request) => answerSignIn(context(), request))
