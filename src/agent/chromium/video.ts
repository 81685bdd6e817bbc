/** Records a page as WebM: the browser's own screencast, stamped with the page's clock. */
import type { CDPSession, Page } from 'playwright-core'
import { inTime, LATE } from '../driver/in-time'
import { encode, type Encoder } from '../video/encode'

const EVERY_NTH_FRAME = 4
/** The next frame comes only after the last was acknowledged: about seven a second tell a page's story, and
 * more costs the page its time. */
const FRAME_PAUSE_MS = 120
/** A page that is busy without end answers nothing. */
const CALL_MS = 1000

export class VideoRecorder {
  private firstStamp = 0
  private lastStamp = -1
  private lastFrame: Buffer | undefined
  startMs = 0

  private constructor(
    private readonly cdp: CDPSession,
    private readonly encoder: Encoder,
    private readonly now: () => number,
  ) {}

  static async start(
    page: Page,
    size: { width: number; height: number },
    now: () => number,
  ): Promise<VideoRecorder> {
    const cdp = await page.context().newCDPSession(page)
    const recorder = new VideoRecorder(cdp, encode(size), now)
    cdp.on('Page.screencastFrame', ({ data, metadata, sessionId }) => {
      setTimeout(
        () => void cdp.send('Page.screencastFrameAck', { sessionId }).catch(() => {}),
        FRAME_PAUSE_MS,
      )
      recorder.add(Buffer.from(data, 'base64'), metadata.timestamp ?? 0)
    })
    await cdp.send('Page.startScreencast', {
      format: 'jpeg',
      quality: 80,
      everyNthFrame: EVERY_NTH_FRAME,
      maxWidth: size.width,
      maxHeight: size.height,
    })
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
    this.encoder.frame(frame, (stampS - this.firstStamp) * 1000)
  }

  /** @returns the whole file; `undefined` when no frame came or ffmpeg is not there */
  async stop(): Promise<{ bytes: Uint8Array; startMs: number } | undefined> {
    await inTime(this.cdp.send('Page.stopScreencast'), CALL_MS).catch(() => {})
    if (!this.lastFrame) {
      // Over before the first frame came: its last picture is the whole video.
      const shot = await inTime(
        this.cdp.send('Page.captureScreenshot', { format: 'jpeg', quality: 80 }),
        CALL_MS,
      ).catch(() => undefined)
      if (shot !== undefined && shot !== LATE) this.add(Buffer.from(shot.data, 'base64'), 1)
    }
    // The screencast is silent while nothing moves: the last picture stands until now.
    if (this.lastFrame)
      this.encoder.frame(
        this.lastFrame,
        Math.max(Math.round((this.lastStamp - this.firstStamp) * 1000) + 1, this.now() - this.startMs),
      )
    const bytes = await this.encoder.end()
    return this.lastFrame && bytes.length > 0 ? { bytes, startMs: this.startMs } : undefined
  }

  /** Its encoder must not outlive the attempt, whether a video was asked for or not. */
  discard(): void {
    this.encoder.discard()
  }
}
