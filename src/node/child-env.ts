/** The environment of programs that run what others wrote: browsers with pages in them, git with
 * repositories, stand-ins.
 * They are given what programs need on any machine, and none of the secrets of this product. */

const NAMES = new Set([
  'PATH',
  'HOME',
  'USER',
  'LOGNAME',
  'SHELL',
  'LANG',
  'LANGUAGE',
  'TZ',
  'TMPDIR',
  'DISPLAY',
  'XAUTHORITY',
  'NODE_ENV',
  'HTTP_PROXY',
  'HTTPS_PROXY',
  'NO_PROXY',
  'http_proxy',
  'https_proxy',
  'no_proxy',
  'SSL_CERT_FILE',
  'SSL_CERT_DIR',
  'NODE_EXTRA_CA_CERTS',
])
const FAMILIES = /^(LC_|XDG_|FONTCONFIG_|MOZ_|OAK_AGENT_PROCESS$)/

/** As programs take it, with or without the types of Node.js. */
export type ChildEnv = NodeJS.ProcessEnv & Record<string, string>

/** @param more what this one child needs besides
 * @param from the environment it is taken from */
export function childEnv(more: Record<string, string> = {}, from: NodeJS.ProcessEnv = process.env): ChildEnv {
  const kept: Record<string, string> = {}
  for (const [name, value] of Object.entries(from)) {
    if (value !== undefined && (NAMES.has(name) || FAMILIES.test(name))) kept[name] = value
  }
  return { ...kept, ...more } as ChildEnv
}
