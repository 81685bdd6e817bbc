/** The verb that changes what the network of the browser does. */
import { describeDuration, durationText, parseDurationMs } from '../durations'
import { DURATION, object, TEXT } from '../schema-parts'
import { NETWORK_DOINGS, type NetworkChange } from '../network-change'
import type { VerbDefinition } from './definition'

type Form = Omit<NetworkChange, 'delayMs'> & { delay?: string | number }

const WORDS: Record<NetworkChange['does'], string> = {
  fail: 'fails for',
  answer: 'answers by itself',
  delay: 'is slow for',
  offline: 'is away',
  online: 'is there again',
  usual: 'is as usual',
}

export const network: VerbDefinition<'network'> = {
  schema: object(
    {
      does: { enum: [...NETWORK_DOINGS] },
      requests: TEXT,
      status: { type: 'integer', minimum: 200, maximum: 599 },
      type: TEXT,
      body: { type: 'string', maxLength: 100_000 },
      delay: DURATION,
    },
    ['does'],
  ),
  read: (form) => {
    const { delay, ...change } = form.network as Form
    return { ...change, ...(delay !== undefined && { delayMs: parseDurationMs(delay)! }) }
  },
  write: ({ does, requests, status, type, body, delayMs }) => ({
    network: {
      does,
      ...(requests !== undefined && { requests }),
      ...(status !== undefined && { status }),
      ...(type !== undefined && { type }),
      ...(body !== undefined && { body }),
      ...(delayMs !== undefined && { delay: durationText(delayMs) }),
    },
  }),
  describe: ({ does, requests = '', status, delayMs }) => ({
    object: WORDS[does],
    detail: [
      requests,
      does === 'answer' && String(status ?? 200),
      delayMs !== undefined && `for ${describeDuration(delayMs)}`,
    ]
      .filter(Boolean)
      .join(', '),
  }),
  purpose: 'fails, answers by itself, is slow or away',
  fields: [
    { path: ['network', 'does'], label: 'It', kind: 'choice', choices: NETWORK_DOINGS },
    {
      path: ['network', 'requests'],
      label: 'Requests',
      kind: 'text',
      hint: 'their address; * for any text',
    },
    { path: ['network', 'delay'], label: 'Delay', kind: 'duration' },
    { path: ['network', 'status'], label: 'Status', kind: 'number' },
    { path: ['network', 'type'], label: 'Type', kind: 'text', hint: 'application/json' },
    { path: ['network', 'body'], label: 'Body', kind: 'long' },
  ],
  fresh: () => ({ network: { does: 'fail', requests: '*/api/*' } }),
}
