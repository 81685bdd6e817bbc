/** What a page makes its browser download, watched from outside the browser: a file without end ends one
 * attempt, and fills no disk. */
import { readdirSync, rmSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { DriverFault } from './port'

const MEGABYTE = 2 ** 20
/** Of all files of an attempt together. */
const MOST_BYTES = 200 * MEGABYTE
const MOST_FILES = 1000
const LOOK_EVERY_MS = 250

export class DownloadLimit {
  /** Comes when the browser was ended, with why. */
  readonly broken: Promise<DriverFault>
  private tell!: (fault: DriverFault) => void
  private readonly timer: NodeJS.Timeout

  /** Empties the folder: what an earlier attempt left there is nobody's.
   * @param folder where the browser of this attempt, and no other, puts its files
   * @param end ends that browser */
  constructor(
    private readonly folder: string,
    private readonly end: () => void,
  ) {
    this.broken = new Promise((resolve) => (this.tell = resolve))
    this.empty()
    this.timer = setInterval(() => this.look(), LOOK_EVERY_MS)
    this.timer.unref()
  }

  stop(): void {
    clearInterval(this.timer)
  }

  private look(): void {
    const files = namesIn(this.folder)
    const bytes = files.reduce((sum, name) => sum + sizeOf(join(this.folder, name)), 0)
    if (bytes <= MOST_BYTES && files.length <= MOST_FILES) return
    this.stop()
    const most = `${MOST_BYTES / MEGABYTE} MB in ${MOST_FILES} files`
    this.tell(
      new DriverFault(
        'page',
        `the page downloaded more than an attempt may (${most}): its browser was ended`,
      ),
    )
    this.end()
    this.empty()
  }

  private empty(): void {
    for (const name of namesIn(this.folder)) rmSync(join(this.folder, name), { recursive: true, force: true })
  }
}

function namesIn(folder: string): string[] {
  try {
    return readdirSync(folder)
  } catch {
    return [] // made with the first file
  }
}

function sizeOf(path: string): number {
  try {
    return statSync(path).size
  } catch {
    return 0 // got its last name meanwhile
  }
}
