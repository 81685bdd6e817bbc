/** A display that nobody sees, for one browser: what shows its windows, and what takes a picture of all of
 * them. */
import { execFile, spawn } from 'node:child_process'
import { childEnv } from '@/node/child-env'
import { browserEnv, startBrowserPath } from '../browser-process'
import type { ScreenShot } from '../driver/port'

export const XVFB = '/usr/bin/Xvfb'
const START_LIMIT_MS = 10_000
const PICTURE_LIMIT_MS = 5000
const PICTURE_MOST_BYTES = 20_000_000

type Size = Pick<ScreenShot, 'width' | 'height'>

export class HiddenDisplay {
  /** @param name as `DISPLAY` wants it */
  private constructor(
    readonly name: string,
    private readonly size: Size,
  ) {}

  /** It ends with the browser of this mark. @throws it does not start */
  static open(mark: string, size: Size): Promise<HiddenDisplay> {
    const screen = `${size.width}x${size.height}x24`
    return new Promise((resolve, reject) => {
      // It chooses a number that is free, and writes it to descriptor 3.
      const xvfb = spawn(
        startBrowserPath(),
        ['-displayfd', '3', '-screen', '0', screen, '-nolisten', 'tcp'],
        { stdio: ['ignore', 'ignore', 'ignore', 'pipe'], env: browserEnv(mark, XVFB) },
      )
      const fail = (why: string) => {
        xvfb.kill('SIGKILL')
        reject(new Error(why))
      }
      const late = setTimeout(() => fail('Xvfb does not say that it is ready'), START_LIMIT_MS)
      xvfb.once('error', reject)
      xvfb.once('exit', () => {
        clearTimeout(late)
        reject(new Error('Xvfb ended at once'))
      })
      let number = ''
      xvfb.stdio[3]!.on('data', (part: Buffer) => {
        number += String(part)
        if (!number.includes('\n')) return // it writes the number and the end of the line one after the other
        clearTimeout(late)
        xvfb.stdio[3]!.destroy()
        resolve(new HiddenDisplay(`:${number.trim()}`, size))
      })
    })
  }

  /** All of it, as a PNG; `undefined` where it gives none in time. */
  picture(): Promise<ScreenShot | undefined> {
    const { width, height } = this.size
    const from = ['-f', 'x11grab', '-draw_mouse', '0', '-video_size', `${width}x${height}`, '-i', this.name]
    const args = [
      '-loglevel',
      'error',
      ...from,
      '-frames:v',
      '1',
      '-f',
      'image2pipe',
      '-c:v',
      'png',
      'pipe:1',
    ]
    const limits = {
      timeout: PICTURE_LIMIT_MS,
      killSignal: 'SIGKILL',
      maxBuffer: PICTURE_MOST_BYTES,
    } as const
    return new Promise((resolve) =>
      execFile('ffmpeg', args, { ...limits, encoding: 'buffer', env: childEnv() }, (error, bytes) =>
        resolve(error || bytes.length === 0 ? undefined : { bytes, mime: 'image/png', width, height }),
      ),
    )
  }
}
