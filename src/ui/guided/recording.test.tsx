/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { act, render, screen, waitFor } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useReducer } from 'react'
import { answerWith, Around } from '../testing/around'
import { SharedWindow } from './SharedWindow'
import { onSheet, sheetState } from './sheet-state'
import type { Sheet } from './useSheet'

/** A recorder as browsers have one: it says what it has when it is stopped. */
class Recorder extends EventTarget {
  static isTypeSupported = () => true
  state: 'inactive' | 'recording' | 'paused' = 'inactive'
  start() {
    this.state = 'recording'
  }
  stop() {
    this.state = 'inactive'
    this.dispatchEvent(Object.assign(new Event('dataavailable'), { data: new Blob(['webm']) }))
    this.dispatchEvent(new Event('stop'))
  }
  pause() {}
  resume() {}
}
const HASH = 'ab'.repeat(32)
const setRecording = jest.fn<(on: boolean) => void>()

beforeAll(() => {
  Object.assign(globalThis, { MediaRecorder: Recorder })
  Object.defineProperty(globalThis, 'crypto', {
    value: { subtle: { digest: async () => new Uint8Array(32).fill(0xab).buffer } },
  })
  Blob.prototype.arrayBuffer ??= async () => new ArrayBuffer(4)
  const track = { stop() {}, addEventListener() {} }
  const stream = { getTracks: () => [track], getVideoTracks: () => [track] }
  Object.assign(navigator, { mediaDevices: { getDisplayMedia: async () => stream } })
})

function Shown({ onVideo }: { onVideo(video: unknown): void }) {
  const [state, dispatch] = useReducer(onSheet, sheetState([], []))
  onVideo(state.video)
  const time = { paused: false, now: () => 4000, setRecording } as unknown as Sheet['time']
  const sheet = { state, act: dispatch, time } as unknown as Sheet
  return <SharedWindow id="0197" sheet={sheet} disabled={false} busy={false} onPicture={async () => {}} />
}

async function recording() {
  const asked = answerWith({
    [`PUT /api/guided/0197/videos/${HASH}`]: {},
    'GET /api/guided/0197': { version: 3, verdicts: [], workedMs: 9, facts: {}, video: null },
    'PUT /api/guided/0197': { version: 4 },
  })
  const onVideo = jest.fn<(video: unknown) => void>()
  const page = render(
    <Around>
      <Shown onVideo={onVideo} />
    </Around>,
  )
  await userEvent.click(screen.getByRole('button', { name: 'Share a window…' }))
  await userEvent.click(await screen.findByRole('button', { name: /Record/ }))
  return { asked, onVideo, page }
}

test('what was recorded is kept when it is stopped, and the case is not over before', async () => {
  const { onVideo } = await recording()
  expect(setRecording).toHaveBeenLastCalledWith(true)
  await userEvent.click(screen.getByRole('button', { name: /Stop the video/ }))
  await waitFor(() => expect(onVideo).toHaveBeenLastCalledWith({ hash: HASH, startMs: 4000 }))
  await waitFor(() => expect(setRecording).toHaveBeenLastCalledWith(false))
})

test('who leaves the page while it is recorded has it on the sheet all the same', async () => {
  const { asked, page } = await recording()
  act(() => page.unmount())
  await waitFor(() =>
    expect(asked.at(-1)).toEqual({
      method: 'PUT',
      path: '/api/guided/0197',
      body: { version: 3, verdicts: [], workedMs: 9, facts: {}, video: { hash: HASH, startMs: 4000 } },
    }),
  )
})
