/** The address people know this server by: `OAK_PUBLIC_URL`, where it stands behind a proxy. */

/** Whether people come by HTTPS: then cookies travel by nothing else. */
export const isSecure = (env: NodeJS.ProcessEnv = process.env): boolean =>
  (env.OAK_PUBLIC_URL ?? '').startsWith('https://')

/** Proxies whose word on who asks is believed, by address: `OAK_TRUSTED_PROXIES`, a comma between. */
export const trustedProxies = (env: NodeJS.ProcessEnv = process.env): string[] =>
  (env.OAK_TRUSTED_PROXIES ?? '')
    .split(',')
    .map((address) => address.trim())
    .filter(Boolean)
