/** Paths within a working copy. Each part is looked at: nothing leads out of the folder, into git's own, or
 * over a link. */
import { lstat, mkdir, readFile, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import { Problem } from '../http/problems'

const PART_CHARS = 200
const PARTS_MOST = 20
/** Names that some file system takes for git's own folder. */
const OF_GIT = /^(\.git|git~\d+)[ .]*$/i

/** @returns why a path is none within a repository, as a part of a sentence; `undefined` when it is one */
export function pathProblem(path: string): string | undefined {
  const parts = path.split('/')
  if (parts.length > PARTS_MOST) return `it is more than ${PARTS_MOST} folders deep`
  for (const part of parts) {
    if (part === '' || part === '.' || part === '..') return `“${part}” is no name of a file or folder`
    if (part.length > PART_CHARS) return 'a name in it is too long'
    if (/[\\\u0000-\u001f\u007f:]/.test(part)) return `“${part}” has a character that names may not have`
    if (OF_GIT.test(part.replace(/[\u200b-\u200f\u202a-\u202e\u2060-\u206f\ufeff]/g, '')))
      return `“${part}” belongs to git`
  }
  return undefined
}

/** @throws {Problem} PATH_REFUSED; what is not there yet is no link */
async function requireInside(root: string, path: string): Promise<void> {
  const problem = pathProblem(path)
  if (problem) throw new Problem('PATH_REFUSED', `“${path}” is not used: ${problem}.`)
  let at = root
  for (const part of path.split('/')) {
    at = join(at, part)
    const stat = await lstat(at).catch((error: NodeJS.ErrnoException) => {
      if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return undefined
      throw error
    })
    if (stat?.isSymbolicLink())
      throw new Problem(
        'PATH_REFUSED',
        `“${path}” is not used: “${part}” is a link, and links are not followed.`,
      )
  }
}

/** @returns the text of a file; `undefined` when it is not there. @throws {Problem} PATH_REFUSED */
export async function readInside(root: string, path: string): Promise<string | undefined> {
  await requireInside(root, path)
  return readFile(join(root, path), 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return undefined
    throw error
  })
}

/** Writes a file, its folders made. @throws {Problem} PATH_REFUSED */
export async function writeInside(root: string, path: string, text: string): Promise<void> {
  await requireInside(root, path)
  await mkdir(join(root, path, '..'), { recursive: true })
  await requireInside(root, path)
  await writeFile(join(root, path), text)
}

/** A folder within the root, or the root itself for an empty path. @throws {Problem} PATH_REFUSED */
export async function folderInside(root: string, path: string): Promise<string> {
  if (path !== '') await requireInside(root, path)
  return join(root, path)
}
