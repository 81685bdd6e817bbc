import { createServer, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { outgoingPolicyOf } from '@/node/outgoing'
import { someWork } from '../testing/work'
import { openBridge, usualCapabilities } from './bridge'

/** A server that gives every request the same answer. */
async function listening(answer: (response: ServerResponse) => unknown) {
  const server = createServer((_, response) => void answer(response))
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    close: () => server.close(),
  }
}

const pace = { typeMs: 0, clickMs: 0 } as unknown as Parameters<typeof openBridge>[2]

describe('what a bridge may lead to', () => {
  test.each([
    ['what clouds tell machines of themselves', 'http://169.254.169.254/latest', 'is not asked'],
    ['the product itself', 'http://127.0.0.1:4700', 'belongs to this product itself'],
    ['its database', 'http://localhost:5432', 'belongs to this product itself'],
  ])('not %s', async (_, endpoint, words) => {
    const policy = outgoingPolicyOf(undefined, ['http://127.0.0.1:4700', 'postgres://127.0.0.1:5432/oak'])
    await expect(openBridge({ endpoint }, someWork().environment, pace, { policy })).rejects.toThrow(words)
  })

  test('nor where an endpoint sends one on to', async () => {
    let asked = 0
    const elsewhere = await listening((response) => {
      asked++
      response.end('{"value":{"sessionId":"s","capabilities":{}}}')
    })
    const endpoint = await listening((response) =>
      response.writeHead(307, { location: elsewhere.address }).end(),
    )
    await expect(openBridge({ endpoint: endpoint.address }, someWork().environment, pace)).rejects.toThrow()
    expect(asked).toBe(0)
    endpoint.close()
    elsewhere.close()
  })
})

test.each([
  ['Chromium', 'Debian 12', { browserName: 'chrome', platformName: 'linux' }],
  ['Edge', 'Windows 11', { browserName: 'MicrosoftEdge', platformName: 'windows' }],
  ['Safari', 'macOS 15', { browserName: 'safari', platformName: 'mac' }],
  ['Firefox', 'Harbour OS', { browserName: 'firefox' }],
])('%s on %s', (browser, os, expected) => expect(usualCapabilities({ browser, os })).toEqual(expected))
