/** A Matroska stream of JPEG pictures with their own times (RFC 9559), just enough for ffmpeg to read from a
 * pipe. */

const ID = {
  ebml: [0x1a, 0x45, 0xdf, 0xa3],
  segment: [0x18, 0x53, 0x80, 0x67],
  info: [0x15, 0x49, 0xa9, 0x66],
  tracks: [0x16, 0x54, 0xae, 0x6b],
  cluster: [0x1f, 0x43, 0xb6, 0x75],
}
const UNKNOWN_SIZE = [0x01, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff]

const size = (n: number): Buffer => {
  const bytes = Buffer.alloc(8)
  bytes.writeBigUInt64BE(BigInt(n))
  bytes[0] = 0x01 // a length of eight bytes, always: simple, and pictures are large anyway
  return bytes
}
const element = (id: number[], ...content: (Buffer | number[])[]): Buffer => {
  const body = Buffer.concat(content.map((part) => Buffer.from(part)))
  return Buffer.concat([Buffer.from(id), size(body.length), body])
}
const uint = (id: number[], value: number): Buffer => {
  const bytes = Buffer.alloc(8)
  bytes.writeBigUInt64BE(BigInt(value))
  return element(id, bytes)
}
const text = (id: number[], value: string) => element(id, Buffer.from(value, 'ascii'))

/** What stands before the first picture. Times are in milliseconds. */
export function matroskaHead(width: number, height: number): Buffer {
  return Buffer.concat([
    element(
      ID.ebml,
      uint([0x42, 0x86], 1),
      uint([0x42, 0xf7], 1),
      uint([0x42, 0xf2], 4),
      uint([0x42, 0xf3], 8),
      text([0x42, 0x82], 'matroska'),
      uint([0x42, 0x87], 4),
      uint([0x42, 0x85], 2),
    ),
    Buffer.from([...ID.segment, ...UNKNOWN_SIZE]),
    element(
      ID.info,
      uint([0x2a, 0xd7, 0xb1], 1_000_000),
      text([0x4d, 0x80], 'oak'),
      text([0x57, 0x41], 'oak'),
    ),
    element(
      ID.tracks,
      element(
        [0xae],
        uint([0xd7], 1),
        uint([0x73, 0xc5], 1),
        uint([0x83], 1),
        text([0x86], 'V_MJPEG'),
        element([0xe0], uint([0xb0], width), uint([0xba], height)),
      ),
    ),
  ])
}

/** One picture in a cluster of its own, so that its time may be any. */
export function matroskaFrame(jpeg: Buffer, atMs: number): Buffer {
  return element(ID.cluster, uint([0xe7], atMs), element([0xa3], [0x81, 0x00, 0x00, 0x80], jpeg))
}
