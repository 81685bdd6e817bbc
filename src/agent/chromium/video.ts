/** Records a page as WebM: the browser's own screencast, stamped with the page's clock, encoded by ffmpeg. */
import { spawn, type ChildProcess } from 'node:child_process'
import type { CDPSession, Page } from 'playwright-core'
import { matroskaFrame, matroskaHead } from './matroska'

const FFMPEG_ARGS = ('-loglevel error -f matroska -fpsprobesize 0 -probesize 32 -analyzeduration 0 -i pipe:0 -an -fps_mode passthrough -enc_time_base 1:1000 ' +
  '-c:v libvpx -deadline realtime -cpu-used 8 -crf 12 -b:v 1500k -auto-alt-ref 0 -pix_fmt yuv420p -g 60 -f webm pipe:1').split(' ')
/** ffmpeg gets this long to write the end of the file. */
const FLUSH_MS = 5000
const EVERY_NTH_FRAME = 4
/** The next frame comes only after the last was acknowledged: about seven a second tell a page's story, and more costs the page its time. */
const FRAME_PAUSE_MS = 120

export class VideoRecorder {
  private readonly parts: Buffer[] = []
  private firstStamp = 0
  private lastStamp = -1
  private lastFrame: Buffer | undefined
  startMs = 0

  private constructor(private readonly cdp: CDPSession, private readonly ffmpeg: ChildProcess, private readonly now: () => number) {}

  static async start(page: Page, size: { width: number; height: number }, now: () => number): Promise<VideoRecorder> {
    const ffmpeg = spawn('ffmpeg', FFMPEG_ARGS, { stdio: ['pipe', 'pipe', 'ignore'] })
    const cdp = await page.context().newCDPSession(page)
    const recorder = new VideoRecorder(cdp, ffmpeg, now)
    ffmpeg.on('error', () => {}) // no ffmpeg: no video; the facts of the agent say so
    ffmpeg.stdin!.on('error', () => {})
    ffmpeg.stdout!.on('data', (part: Buffer) => recorder.parts.push(part))
    ffmpeg.stdin!.write(matroskaHead(size.width, size.height))
    cdp.on('Page.screencastFrame', ({ data, metadata, sessionId }) => {
      setTimeout(() => void cdp.send('Page.screencastFrameAck', { sessionId }).catch(() => {}), FRAME_PAUSE_MS)
      recorder.add(Buffer.from(data, 'base64'), metadata.timestamp ?? 0)
    })
    await cdp.send('Page.startScreencast', { format: 'jpeg', quality: 80, everyNthFrame: EVERY_NTH_FRAME, maxWidth: size.width, maxHeight: size.height })
    return recorder
  }

  /** Frames may arrive out of order; one that is not newer than the last is dropped. */
  private add(frame: Buffer, stampS: number) {
    if (stampS <= this.lastStamp) return
    if (!this.lastFrame) {
      this.firstStamp = stampS
      this.startMs = this.now()
    }
    this.lastStamp = stampS
    this.lastFrame = frame
    this.ffmpeg.stdin!.write(matroskaFrame(frame, Math.round((stampS - this.firstStamp) * 1000)))
  }

  /** @returns the whole file; `undefined` when no frame came or ffmpeg is not there */
  async stop(): Promise<{ bytes: Uint8Array; startMs: number } | undefined> {
    await this.cdp.send('Page.stopScreencast').catch(() => {})
    if (!this.lastFrame) {
      // Over before the first frame came: its last sight is the whole video.
      const shot = await this.cdp.send('Page.captureScreenshot', { format: 'jpeg', quality: 80 }).catch(() => undefined)
      if (shot) this.add(Buffer.from(shot.data, 'base64'), 1)
    }
    if (this.lastFrame) {
      // The screencast is silent while nothing moves: the last picture stands until now.
      const until = Math.max(Math.round((this.lastStamp - this.firstStamp) * 1000) + 1, this.now() - this.startMs)
      this.ffmpeg.stdin!.write(matroskaFrame(this.lastFrame, until))
    }
    const ended = this.ffmpeg.exitCode !== null || this.ffmpeg.pid === undefined ? Promise.resolve() : new Promise<void>((resolve) => this.ffmpeg.once('close', () => resolve()))
    this.ffmpeg.stdin!.end()
    const timer = setTimeout(() => this.ffmpeg.kill('SIGKILL'), FLUSH_MS)
    await ended
    clearTimeout(timer)
    const bytes = Buffer.concat(this.parts)
    return this.lastFrame && bytes.length > 0 ? { bytes, startMs: this.startMs } : undefined
  }
}
