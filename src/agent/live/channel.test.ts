import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { WebSocketServer } from 'ws'
import { frameOf } from '@/core/live'
import { until } from '../driver/testing/patience'
import { openChannel } from './channel'

let server: Server
let lines: WebSocketServer
let heard: string[]
let pictures: Buffer[]
async function listen(port = 0): Promise<number> {
  server = createServer()
  lines = new WebSocketServer({ server })
  lines.on('connection', (line) =>
    line.on('message', (data, isBinary) =>
      isBinary ? pictures.push(data as Buffer) : heard.push(String(data as Buffer)),
    ),
  )
  await new Promise<void>((resolve) => server.listen(port, '127.0.0.1', resolve))
  return (server.address() as AddressInfo).port
}
async function cut(): Promise<void> {
  for (const line of lines.clients) line.terminate()
  lines.close()
  await new Promise((resolve) => server.close(resolve))
}
beforeEach(() => {
  heard = []
  pictures = []
})

test('a line that was cut is opened again, as often as it takes, and who looks is told all anew', async () => {
  const port = await listen()
  const channel = openChannel({ url: `ws://127.0.0.1:${port}/`, headers: {} })
  let opened = 0
  channel.onOpen = () => opened++
  await until(async () => opened === 1)
  await cut()
  // what is said meanwhile is lost, and disturbs nothing; of the pictures the newest comes
  channel.say({ say: 'problem', message: 'to nobody' })
  for (const no of [1, 2]) channel.frame(new Uint8Array([0xff, 0xd8, no]), 10, 10)
  await listen(port)
  await until(async () => opened === 2)
  expect(opened).toBe(2)
  channel.say({ say: 'problem', message: 'to somebody' })
  await until(async () => heard.length > 0)
  expect(heard.map((word) => JSON.parse(word) as object)).toEqual([
    { say: 'problem', message: 'to somebody' },
  ])
  await until(async () => pictures.length > 0)
  expect(pictures).toEqual([Buffer.from(frameOf(10, 10, new Uint8Array([0xff, 0xd8, 2])))])
  channel.close()
  await cut()
})

test('one that is closed is not opened again', async () => {
  const port = await listen()
  const channel = openChannel({ url: `ws://127.0.0.1:${port}/`, headers: {} })
  let opened = 0
  channel.onOpen = () => opened++
  await until(async () => opened === 1)
  channel.close()
  await until(async () => lines.clients.size === 0)
  expect([opened, lines.clients.size]).toEqual([1, 0])
  await cut()
})

test('an order comes as it was said', async () => {
  const port = await listen()
  const orders: unknown[] = []
  const channel = openChannel({ url: `ws://127.0.0.1:${port}/`, headers: {} })
  channel.onOrder = (order) => orders.push(order)
  await until(async () => lines.clients.size === 1)
  for (const line of lines.clients) line.send(JSON.stringify({ do: 'longer' }))
  await until(async () => orders.length > 0)
  expect(orders).toEqual([{ do: 'longer' }])
  channel.close()
  await cut()
})
