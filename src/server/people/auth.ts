/** Sign-in by username and password, kept by better-auth in our own tables. */
import { betterAuth } from 'better-auth'
import { drizzleAdapter } from 'better-auth/adapters/drizzle'
import { isSecure } from '../public-url'
import { withHashedSessions } from './session-adapter'
import { username } from 'better-auth/plugins'
import { isUsername, PASSWORD_CHARS, USERNAME_MOST } from '@/core/people'
import * as people from '@/db/people.schema'
import { context, secret } from '../context'

const DAY_S = 86_400

function makeAuth() {
  return betterAuth({
    secret: secret(),
    baseURL: process.env.OAK_PUBLIC_URL ?? process.env.OAK_URL,
    database: withHashedSessions(drizzleAdapter(context().db, { provider: 'pg', schema: people })),
    emailAndPassword: {
      enabled: true,
      disableSignUp: true,
      minPasswordLength: PASSWORD_CHARS.least,
      maxPasswordLength: PASSWORD_CHARS.most,
    },
    user: {
      additionalFields: {
        role: { type: 'string', required: false, input: false },
        state: { type: 'string', required: false, input: false },
      },
    },
    session: { expiresIn: 14 * DAY_S, updateAge: DAY_S },
    // nothing of the library is reached over HTTP; tries are counted in sign-in.ts
    rateLimit: { enabled: false },
    plugins: [
      username({ maxUsernameLength: USERNAME_MOST, minUsernameLength: 2, usernameValidator: isUsername }),
    ],
    telemetry: { enabled: false },
    advanced: {
      cookiePrefix: 'oak',
      useSecureCookies: isSecure(),
      ipAddress: { ipAddressHeaders: ['x-oak-address'] },
      defaultCookieAttributes: { sameSite: 'lax', httpOnly: true, secure: isSecure() },
    },
  })
}

const shared = globalThis as { oakAuth?: ReturnType<typeof makeAuth> }
export const auth = () => (shared.oakAuth ??= makeAuth())
