/** Failures of web interfaces, by their cause. */
import type { Random } from '../../execution/random'
import { amount, check, date, hex, host, int, pick, port, ref, target, time, type Cause } from './making'

/** A script error in three engines, with its stack as each prints it. */
function script(next: Random, [v8, spider, core]: [string, string, string], fn: string, file: string) {
  const at = `${pick(next, 'https', 'http')}://${host(next)}/assets/${file}.${hex(next, 8)}.js:${int(next, 1, 4000)}:${int(next, 1, 80)}`
  const under = `https://${host(next)}/assets/vendor.${hex(next, 8)}.js:1:${int(next, 100, 90_000)}`
  const last = fn.split('.').at(-1)!
  return pick(
    next,
    {
      kind: 'page',
      message: `Uncaught TypeError: ${v8}`,
      stack: `TypeError: ${v8}\n    at ${fn} (${at})\n    at run (${under})`,
    },
    { kind: 'page', message: `TypeError: ${spider}`, stack: `${last}@${at}\nrun@${under}` },
    { kind: 'page', message: `TypeError: ${core}`, stack: `${last}@${at}\nrun@${under}` },
  )
}
export const WEB: readonly Cause[] = [
  check('the fare differs', (next) => `fare-total: expected ${amount(next)}, found ${amount(next)}`),
  check('the fare is undefined', (next) => `fare-total: expected ${amount(next)}, found undefined`),
  check('the fare is null', (next) => `fare-total: expected ${amount(next)}, found null`),
  check(
    'the party differs',
    (next) => `party: expected "${int(next, 1, 9)}", found "${int(next, 1, 9)} passengers"`,
  ),
  check(
    'the heading differs',
    (next) =>
      `The text of heading is "${port(next)} to ${port(next)}", expected "${port(next)} to ${port(next)}"`,
  ),
  check(
    'too few rows',
    (next) =>
      `Expected ${int(next, 3, 9)} items in table "Sailings" but there ` +
      `${pick(next, 'was 1 item', `were ${int(next, 2, 9)} items`)}`,
  ),
  check(
    'too few rows of another table',
    (next) =>
      `Expected ${int(next, 3, 9)} items in table "Crew" but there ` +
      `${pick(next, 'was 1 item', `were ${int(next, 2, 9)} items`)}`,
  ),
  target(
    'the button is covered',
    (next) =>
      `button "Keep these seats" is covered: the point ${int(next, 1, 1280)}, ` +
      `${int(next, 1, 800)} belongs to svg.deck-plan`,
  ),
  target(
    'another button is covered',
    (next) =>
      `button "Pay now" is covered: the point ${int(next, 1, 1280)}, ` +
      `${int(next, 1, 800)} belongs to svg.deck-plan`,
  ),
  target(
    'the button is not there',
    (next) =>
      `button "Find sailings" is not on the page after ${int(next, 5, 30)} s ` +
      `(attempt ${int(next, 1, 3)} of 3)`,
  ),
  target(
    'the link is not there',
    (next) =>
      `link "Timetable" is not on the page after ${int(next, 5000, 30_000)} ms ` +
      `(attempt ${int(next, 1, 3)} of 3)`,
  ),
  target(
    'the button is there, disabled',
    (next) => `button "Find sailings" is disabled after ${int(next, 5, 30)} s`,
  ),
  target(
    'several match',
    (next) => `field "Passengers": ${int(next, 2, 9)} elements match, one was expected`,
  ),
  {
    cause: 'a dialog is open',
    say: (next) => ({
      kind: 'dialog',
      message: `a dialog “Storm warning” is open over the page since ${time(next)}`,
    }),
  },
  {
    cause: 'another dialog is open',
    say: (next) => ({
      kind: 'dialog',
      message: `a dialog “Session expired” is open over the page since ${time(next)}`,
    }),
  },
  {
    cause: 'no total',
    say: (next) =>
      script(
        next,
        [
          "Cannot read properties of undefined (reading 'total')",
          'can\'t access property "total", fare is undefined',
          "undefined is not an object (evaluating 'fare.total')",
        ],
        'FareTable.update',
        'fares',
      ),
  },
  {
    cause: 'no total of null',
    say: (next) =>
      script(
        next,
        [
          "Cannot read properties of null (reading 'total')",
          'can\'t access property "total", fare is null',
          "null is not an object (evaluating 'fare.total')",
        ],
        'FareTable.update',
        'fares',
      ),
  },
  {
    cause: 'no seats',
    say: (next) =>
      script(
        next,
        [
          "Cannot read properties of undefined (reading 'seats')",
          'can\'t access property "seats", deck is undefined',
          "undefined is not an object (evaluating 'deck.seats')",
        ],
        'DeckPlan.draw',
        'deck',
      ),
  },
  {
    cause: 'no total elsewhere',
    say: (next) =>
      script(
        next,
        [
          "Cannot read properties of undefined (reading 'total')",
          'can\'t access property "total", bill is undefined',
          "undefined is not an object (evaluating 'bill.total')",
        ],
        'Refund.show',
        'refund',
      ),
  },
  {
    cause: 'no function',
    say: (next) =>
      script(
        next,
        [
          'booking.confirm is not a function',
          'booking.confirm is not a function',
          "booking.confirm is not a function. (In 'booking.confirm()', 'booking.confirm' is undefined)",
        ],
        'Checkout.send',
        'checkout',
      ),
  },
  {
    cause: 'fetch failed',
    say: (next) => ({
      kind: 'page',
      message:
        `TypeError: ` +
        `${pick(next, 'Failed to fetch', 'NetworkError when attempting to fetch resource.', 'Load failed')}`,
    }),
  },
  {
    cause: 'no JSON',
    say: (next) => ({
      kind: 'page',
      message: pick(
        next,
        'SyntaxError: Unexpected token < in JSON at position 0',
        `SyntaxError: Unexpected token '<', "<!DOCTYPE "... is not valid JSON`,
        'SyntaxError: JSON.parse: unexpected character at line 1 column 1 of the JSON data',
        "SyntaxError: JSON Parse error: Unrecognized token '<'",
      ),
    }),
  },
  {
    cause: 'the page answers 500',
    say: (next) => ({
      kind: 'page',
      message: `the page http://${host(next)}/bookings/${ref(next)} answers 500`,
    }),
  },
  {
    cause: 'the page answers 503',
    say: (next) => ({
      kind: 'page',
      message: `the page http://${host(next)}/bookings/${ref(next)} answers 503`,
    }),
  },
  {
    cause: 'the page is slow',
    say: (next) => ({
      kind: 'time-limit',
      message:
        `the page did not answer within ${int(next, 5, 60)} s: it is busy ` +
        `without end, or the machine of the agent is`,
    }),
  },
  {
    cause: 'the agent is lost',
    say: (next) => ({
      kind: 'agent',
      message:
        `agent maren-${String(int(next, 1, 20)).padStart(2, '0')} said nothing ` +
        `for ${int(next, 30, 90)} s: taken for lost at ${date(next)} ` +
        `${time(next)}`,
    }),
  },
]
