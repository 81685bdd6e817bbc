/** JPEG pictures with their own times in, WebM out, by ffmpeg. */
import { spawn } from 'node:child_process'
import { childEnv } from '@/node/child-env'
import { matroskaFrame, matroskaHead } from './matroska'

const FFMPEG_ARGS = (
  '-loglevel error -f matroska -fpsprobesize 0 -probesize 32 -analyzeduration 0 -i pipe:0 -an ' +
  '-fps_mode passthrough -enc_time_base 1:1000 ' +
  ('-c:v libvpx -deadline realtime -cpu-used 8 -crf 12 -b:v 1500k -auto-alt-ref 0 -pix_fmt yuv420p ' +
    '-g 60 -f webm pipe:1')
).split(' ')
/** ffmpeg gets this long to write the end of the file. */
const FLUSH_MS = 5000
/** A file of more is not kept, and frames that wait for ffmpeg in larger numbers are left out: it falls
 * behind. */
const FILE_MOST_BYTES = 64_000_000
const WAITING_MOST_BYTES = 20_000_000

export type Encoder = {
  frame(jpeg: Buffer, atMs: number): void
  /** The whole file; empty when ffmpeg is not there. */ end(): Promise<Buffer>
  /** Without a file: for an attempt that is over before its end. */ discard(): void
}

export function encode(size: { width: number; height: number }): Encoder {
  const parts: Buffer[] = []
  const ffmpeg = spawn('ffmpeg', FFMPEG_ARGS, { stdio: ['pipe', 'pipe', 'ignore'], env: childEnv() })
  ffmpeg.on('error', () => {}) // no ffmpeg: no video; the facts of the agent say so
  ffmpeg.stdin.on('error', () => {})
  let bytes = 0
  ffmpeg.stdout.on('data', (part: Buffer) => {
    bytes += part.length
    if (bytes <= FILE_MOST_BYTES) parts.push(part)
    else ffmpeg.kill('SIGKILL')
  })
  ffmpeg.stdin.write(matroskaHead(size.width, size.height))
  return {
    frame: (jpeg, atMs) =>
      void (
        ffmpeg.stdin.writableLength < WAITING_MOST_BYTES &&
        ffmpeg.stdin.write(matroskaFrame(jpeg, Math.round(atMs)))
      ),
    end: async () => {
      const ended =
        ffmpeg.exitCode !== null || ffmpeg.pid === undefined
          ? Promise.resolve()
          : new Promise<void>((resolve) => ffmpeg.once('close', () => resolve()))
      ffmpeg.stdin.end()
      const timer = setTimeout(() => ffmpeg.kill('SIGKILL'), FLUSH_MS)
      await ended
      clearTimeout(timer)
      return bytes <= FILE_MOST_BYTES ? Buffer.concat(parts) : Buffer.alloc(0)
    },
    discard: () => void ffmpeg.kill('SIGKILL'),
  }
}
