/** Sign-in by username and password, kept by better-auth in our own tables. */
import { betterAuth } from 'better-auth'
import { drizzleAdapter } from 'better-auth/adapters/drizzle'
import { username } from 'better-auth/plugins'
import * as people from '@/db/people.schema'
import { context, secret } from '../context'

const DAY_S = 86_400

function makeAuth() {
  return betterAuth({
    secret: secret(),
    baseURL: process.env.OAK_URL,
    // Behind a proxy or a forwarded port the address differs from our own; same-origin is checked by `requireSameOrigin`.
    trustedOrigins: (request) => {
      const host = request?.headers.get('host')
      return host ? [`http://${host}`, `https://${host}`] : []
    },
    database: drizzleAdapter(context().db, { provider: 'pg', schema: people }),
    emailAndPassword: { enabled: true, disableSignUp: true, minPasswordLength: 8 },
    user: { additionalFields: { role: { type: 'string', required: false, input: false } } },
    session: { expiresIn: 14 * DAY_S, updateAge: DAY_S },
    rateLimit: { enabled: true, window: 60, max: 600, customRules: { '/sign-in/username': { window: 60, max: 30 } } },
    plugins: [username()],
    telemetry: { enabled: false },
    advanced: { cookiePrefix: 'oak', useSecureCookies: false },
  })
}

const shared = globalThis as { oakAuth?: ReturnType<typeof makeAuth> }
export const auth = () => (shared.oakAuth ??= makeAuth())
