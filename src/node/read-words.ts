/** The words on a screen, by tesseract, with no network. */
import { spawn } from 'node:child_process'
import { constants, setPriority } from 'node:os'
import sharp from 'sharp'
import { lettering, type Pixels, type ReadWord } from '@/core/vision'
import { childEnv } from './child-env'

const PROGRAM = 'tesseract'
/** Letters of an interface are small; programs that read want them twice as large. */
const LARGER = 2
/** Text that stands anywhere, in no order of a page. */
const SPARSE = '11'
const LIMIT_MS = 30_000
const SAID_MOST = 8_000_000
/** Of 100: what the program is less sure of is no word. */
const SURE_LEAST = 20

/** Why nothing was read, for people. */
export class NotRead extends Error {}

/** `behind`: nobody waits for it, so all other programs come first. */
type Reading = { behind?: boolean }

/** In the order of reading, as far as the program sees one. @throws {NotRead} */
export async function readWords(pixels: Pixels, { behind = false }: Reading = {}): Promise<ReadWord[]> {
  const { width, height, data } = lettering(pixels)
  const letters = await sharp(Buffer.from(Uint8Array.from(data)), { raw: { width, height, channels: 1 } })
    .resize({ width: width * LARGER, kernel: 'lanczos3' })
    .png({ compressionLevel: 1 })
    .toBuffer()
  return wordsIn(await said(letters, behind))
}

function said(picture: Buffer, behind: boolean): Promise<string> {
  return new Promise((resolve, reject) => {
    // Letters are dark already: looking for light ones, too, takes a third longer.
    const child = spawn(PROGRAM, ['stdin', 'stdout', '--psm', SPARSE, '-c', 'tessedit_do_invert=0', 'tsv'], {
      env: childEnv({ OMP_THREAD_LIMIT: '1' }),
      stdio: ['pipe', 'pipe', 'ignore'],
      timeout: LIMIT_MS,
      killSignal: 'SIGKILL',
    })
    if (behind && child.pid !== undefined) setPriority(child.pid, constants.priority.PRIORITY_LOW)
    const chunks: Buffer[] = []
    let length = 0
    child.stdout.on('data', (chunk: Buffer) => {
      length += chunk.length
      if (length > SAID_MOST) child.kill('SIGKILL')
      else chunks.push(chunk)
    })
    child.on('error', () =>
      reject(new NotRead('words cannot be read: tesseract is not installed (apt-get install tesseract-ocr)')),
    )
    child.on('close', (code) =>
      code === 0
        ? resolve(Buffer.concat(chunks).toString('utf8'))
        : reject(new NotRead(`words could not be read within ${LIMIT_MS / 1000} s`)),
    )
    child.stdin.on('error', () => {
      // It ended before it had read all; how it ended is told by its end.
    })
    child.stdin.end(picture)
  })
}

/** Its columns: level, page, block, paragraph, line, word, left, top, width, height, sure, text. */
function wordsIn(table: string): ReadWord[] {
  return table.split('\n').flatMap((line) => {
    const columns = line.split('\t')
    const text = columns[11]?.trim() ?? ''
    const sure = Number(columns[10])
    if (columns[0] !== '5' || text === '' || sure < SURE_LEAST) return []
    const [x, y, w, h] = columns.slice(6, 10).map((value) => Math.round(Number(value) / LARGER))
    return [{ text, x: x!, y: y!, w: w!, h: h!, sure: Math.round(sure) / 100 }]
  })
}
