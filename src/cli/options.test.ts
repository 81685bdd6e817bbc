import { createServer } from 'node:net'
import type { AddressInfo } from 'node:net'
import { CliProblem, options } from './options'
import { answers, freePort, requireFree } from './ports'

describe('options', () => {
  test('what is not said has a default', () =>
    expect(options([], {})).toMatchObject({
      command: 'help',
      port: 4600,
      host: '127.0.0.1',
      demo: true,
      rest: [],
    }))
  test('everything said is taken', () =>
    expect(
      options(['start', '--port', '5000', '--host', '0.0.0.0', '--no-demo'], {
        OAK_HOME: '/data',
        DATABASE_URL: 'postgres://x',
      }),
    ).toEqual({
      command: 'start',
      rest: [],
      port: 5000,
      host: '0.0.0.0',
      demo: false,
      dryRun: false,
      json: false,
      schema: false,
      wait: false,
      delete: false,
      whole: false,
      set: {},
      ignore: [],
      home: '/data',
      databaseUrl: 'postgres://x',
    }))
  test('words after the command are kept', () =>
    expect(options(['test', 'unit', 'core'], {}).rest).toEqual(['unit', 'core']))
  test('an empty DATABASE_URL is none', () =>
    expect(options(['start'], { DATABASE_URL: '' })).not.toHaveProperty('databaseUrl'))
  test.each([
    [['start', '--port', 'x'], '--port wants'],
    [['start', '--port', '0'], '--port wants'],
    [['start', '--port', '70000'], '--port wants'],
    [['start', '--prot', '1'], '--prot is not known here; there is: --port'],
  ])('%j is told', (args, says) => {
    expect(() => options(args, {})).toThrow(CliProblem)
    expect(() => options(args, {})).toThrow(says)
  })
})

describe('ports', () => {
  test('a taken port is named, with what to do; a free one is found beside it', async () => {
    const server = createServer()
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const { port } = server.address() as AddressInfo
    await expect(requireFree(port, 'web')).rejects.toThrow(
      `port ${port} (web) is taken by another program. Choose another with --port N`,
    )
    expect(await freePort(port)).toBeGreaterThan(port)
    server.close()
  })
  test('waiting for an answer ends when the process is gone', async () =>
    expect(await answers('http://127.0.0.1:1/', 60_000, () => true)).toBe(false))
})
