/** Git, as it may be run on repositories that others write: nothing in them is carried out, no link is made,
 * and it goes nowhere but to the repository's own address. Where the product runs as root, git runs as the
 * user nobody. */
import { chown, lstat, mkdir, readdir, rm } from 'node:fs/promises'
import { spawnSync } from 'node:child_process'
import { statSync, writeFileSync } from 'node:fs'
import { join, resolve, sep } from 'node:path'
import { simpleGit, type SimpleGit } from 'simple-git'
import { childEnv } from '@/node/child-env'
import type { RepositoryRow } from '@/db/definitions'
import { credentialsOf, environmentOf, headerConfig, placeKey, removeKey, sshCommand } from './credentials'

/** A git command without output for this long is killed. */
const SILENT_MS = 60_000

/** Configuration that no repository can override. Symbolic links are checked out as small files that hold the
 * path. */
const CONFIG = [
  'core.symlinks=false',
  'core.hooksPath=/dev/null',
  'core.fsmonitor=false',
  'core.attributesFile=/dev/null',
  'core.protectHFS=true',
  'core.protectNTFS=true',
  'credential.helper=',
  'fetch.recurseSubmodules=false',
  'submodule.recurse=false',
  'http.followRedirects=false',
  'protocol.allow=never',
  'protocol.http.allow=always',
  'protocol.https.allow=always',
  'protocol.ssh.allow=always',
]

/** Folders of this machine that repositories may be read from; an administrator names them, a colon
 * between. */
export const localRoots = (env: NodeJS.ProcessEnv = process.env): string[] =>
  (env.OAK_REPOSITORY_ROOTS ?? '')
    .split(':')
    .filter(Boolean)
    .map((root) => resolve(root))

/** Whether a location is a folder of this machine that may be read. */
export function isAllowedLocal(location: string, roots = localRoots()): boolean {
  const path = resolve(location)
  return roots.some((root) => path === root || path.startsWith(root + sep))
}

export const isLocal = (location: string): boolean => location.startsWith('/')

/** What stands beside a working copy: how a repository of this machine is trusted, and what SSH remembers. */
const trustOf = (folder: string) => `${folder}.gitconfig`
const sshOf = (folder: string) => `${folder}.ssh`

/** Git in the working copy of a repository, with its credentials for as long as the work lasts.
 * @param folder of the working copy; it is ours alone */
export async function withGit<T>(
  repository: Pick<RepositoryRow, 'location' | 'credentials'>,
  folder: string,
  work: (git: SimpleGit) => Promise<T>,
): Promise<T> {
  const { location } = repository
  if (isLocal(location)) return work(gitFor(location, folder))
  const credentials = credentialsOf(repository)
  const ssh = sshOf(folder)
  await mkdir(ssh, { recursive: true, mode: 0o700 })
  const keyFile = credentials?.kind === 'key' ? await placeKey(ssh, credentials.key) : undefined
  try {
    const user = unprivileged(folder, location)
    if (user) await giveTo(ssh, user)
    const secret = environmentOf({
      'core.sshCommand': sshCommand(ssh, keyFile),
      ...(credentials?.kind === 'token' && headerConfig(location, credentials)),
    })
    return await work(gitFor(location, folder, secret))
  } finally {
    if (keyFile !== undefined) await removeKey(keyFile)
  }
}

/** The working copy goes, with what stands beside it. */
export async function removeWorkingCopy(folder: string): Promise<void> {
  for (const path of [folder, sshOf(folder), trustOf(folder)])
    await rm(path, { recursive: true, force: true })
}

/** Only a location of this machine needs, and gets, the protocol for files.
 * @param more of the environment */
function gitFor(location: string, folder: string, more: Record<string, string> = {}): SimpleGit {
  const user = unprivileged(folder, location)
  const config = [
    ...CONFIG,
    `safe.directory=${folder}`,
    ...(isLocal(location)
      ? ['protocol.file.allow=always', `safe.directory=${location}`, `safe.directory=${location}/.git`]
      : []),
  ]
  const environment = childEnv({
    GIT_CONFIG_NOSYSTEM: '1',
    GIT_CONFIG_GLOBAL: user || !isLocal(location) ? '/dev/null' : trusting(location, folder),
    GIT_TERMINAL_PROMPT: '0',
    GIT_ASKPASS: '/bin/false',
    HOME: folder,
    LANG: 'C.UTF-8',
    ...more,
  })
  const git = simpleGit({
    allowEnvironment: Object.keys(environment),
    baseDir: folder,
    config,
    timeout: { block: SILENT_MS },
    ...(user && { spawnOptions: { uid: user.uid, gid: user.gid } }),
    unsafe: {
      allowUnsafeSshCommand: true,
      allowUnsafeHooksPath: true,
      allowUnsafeFsMonitor: true,
      allowUnsafeProtocolOverride: true,
      allowUnsafeCredentialHelper: true,
      allowUnsafeConfigPaths: true,
      allowUnsafeAskPass: true,
      allowUnsafeConfigEnvCount: true,
    },
  })
  return git.env(environment)
}

/** Git serves a repository of another user only where its configuration of this machine says so: what a
 * command is told does not reach the program on the other side. @returns the file that says it, for this
 * repository alone */
function trusting(location: string, folder: string): string {
  const file = trustOf(folder)
  const lines = [location, `${location}/.git`].map((path) => `\tdirectory = ${JSON.stringify(path)}\n`)
  writeFileSync(file, `[safe]\n${lines.join('')}`)
  return file
}

/** Makes the folder of a working copy; it and its contents are owned by the user that runs git. */
export async function makeFolder(folder: string, location: string): Promise<void> {
  await mkdir(folder, { recursive: true })
  const user = unprivileged(folder, location)
  if (user) await giveTo(folder, user)
}

/** Gives a folder of ours to the user that git runs as, where this process is root. */
export async function giveToNobody(folder: string): Promise<void> {
  const nobody = process.getuid?.() === 0 ? idOf('nobody') : undefined
  if (nobody) await giveTo(folder, nobody)
}

type User = { uid: number; gid: number }

async function giveTo(path: string, user: User): Promise<void> {
  const stat = await lstat(path)
  if (stat.isSymbolicLink()) return
  if (stat.uid !== user.uid) await chown(path, user.uid, user.gid)
  if (stat.isDirectory()) for (const name of await readdir(path)) await giveTo(join(path, name), user)
}

const warned = new Set<string>()
const passable = new Map<string, boolean>()

/** Who runs git where this process is root: for a folder of this machine the one it belongs to, else nobody.
 * `undefined`: it stays as it is. */
function unprivileged(folder: string, location: string): User | undefined {
  if (process.getuid?.() !== 0) return undefined
  const user = isLocal(location) ? ownerOf(location) : idOf('nobody')
  if (!user)
    return isLocal(location) ? undefined : warn('git runs as root: this machine has no user “nobody”')
  const parent = resolve(folder, '..')
  if (mayEnter(user, parent)) return user
  return warn(
    `git runs as root: the user ${user.uid} may not enter ${parent}. Run the product as a user of ` +
      'its own, or set OAK_HOME to a folder that others may pass',
  )
}

function ownerOf(location: string): User | undefined {
  const owner = statSync(location, { throwIfNoEntry: false })
  return owner && owner.uid !== 0 ? { uid: owner.uid, gid: owner.gid } : undefined
}

function mayEnter({ uid, gid }: User, folder: string): boolean {
  const key = `${uid} ${folder}`
  const known = passable.get(key) ?? spawnSync('test', ['-x', folder], { uid, gid }).status === 0
  passable.set(key, known)
  return known
}

function warn(text: string): undefined {
  if (!warned.has(text)) console.error(new Date().toISOString(), text)
  warned.add(text)
  return undefined
}

const users = new Map<string, User | undefined>()

function idOf(name: string): User | undefined {
  if (!users.has(name)) {
    const [uid, gid] = ['-u', '-g'].map((flag) =>
      Number(spawnSync('id', [flag, name], { encoding: 'utf8' }).stdout.trim() || NaN),
    )
    users.set(name, Number.isInteger(uid) && Number.isInteger(gid) ? { uid: uid!, gid: gid! } : undefined)
  }
  return users.get(name)
}
