/** Signing in and setting a password by a form of the page itself: they work before any script has come, and
 * put nothing in an address. */
import { wayBack, type PasswordWeakness } from '@/core/people'
import type { Context } from '../context'
import { Problem } from '../http/problems'
import { clientAddress, readBody, readBytes, requireSameOrigin } from '../http/route'
import { takeLink, welcomeBody } from './members'
import { signIn, signInBody, type SignInRequest } from './sign-in'

const FORM_BYTES = 8000

const isForm = (request: Request) =>
  (request.headers.get('content-type') ?? '').startsWith('application/x-www-form-urlencoded')

async function fieldsOf(request: Request): Promise<Record<string, string>> {
  return Object.fromEntries(
    new URLSearchParams(new TextDecoder().decode(await readBytes(request, FORM_BYTES))),
  )
}

/** To a page, with the cookies of an answer. */
function seeOther(place: string, from?: Response): Response {
  const headers = new Headers({ location: place, 'cache-control': 'no-store' })
  for (const cookie of from?.headers.getSetCookie() ?? []) headers.append('set-cookie', cookie)
  return new Response(null, { status: 303, headers })
}

/** @throws {Problem} for requests with JSON; a form is redirected to its page with the problem */
export async function answerSignIn(ctx: Context, request: Request): Promise<Response> {
  requireSameOrigin(request)
  const address = clientAddress(request.headers)
  if (!isForm(request)) {
    const answer = await signIn(ctx, await readBody(request, signInBody), address, request.headers)
    return withoutBody(answer)
  }
  const { to, ...fields } = await fieldsOf(request)
  const way = wayBack(to)
  try {
    if (!signInBody(fields)) throw new Problem('SIGN_IN_WRONG')
    return seeOther(way, await signIn(ctx, fields as SignInRequest, address, request.headers))
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    const again = new URLSearchParams({
      to: way,
      problem: error.code,
      ...(error.code === 'SIGN_IN_WAIT' && { wait: String((error.detail as { waitMs: number }).waitMs) }),
    })
    return seeOther(`/sign-in?${again.toString()}`)
  }
}

/** The cookies of an answer, and nothing of what else the library says: that holds the token of the
 * session. */
export function withoutBody(from: Response): Response {
  const headers = new Headers({ 'cache-control': 'no-store' })
  for (const cookie of from.headers.getSetCookie()) headers.append('set-cookie', cookie)
  return new Response(null, { status: 204, headers })
}

/** @throws {Problem} as `answerSignIn` */
export async function answerWelcome(ctx: Context, request: Request): Promise<Response> {
  requireSameOrigin(request)
  if (!isForm(request)) {
    const { link, password } = await readBody(request, welcomeBody)
    await takeLink(ctx, link, password)
    return new Response(null, { status: 204 })
  }
  const { link = '', password = '' } = await fieldsOf(request)
  try {
    await takeLink(ctx, link, password)
    return seeOther('/sign-in?problem=PASSWORD_SET')
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    // Only which sentence it is: words from an address would be anybody's words on our page.
    const why = (error.detail as { why?: PasswordWeakness } | undefined)?.why ?? ''
    return seeOther(`/welcome/${encodeURIComponent(link)}?problem=${why}`)
  }
}
