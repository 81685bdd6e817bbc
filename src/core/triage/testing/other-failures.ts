/** Failures by their cause, in the ways that other programs and people write. */
import type { Random } from '../../execution/random'
import { amount, check, date, hex, host, int, pick, port, ref, time, type Cause } from './making'

const list = (next: Random) =>
  Array.from({ length: int(next, 1, 6) }, () => port(next)).join(pick(next, ', ', ','))
const level = (next: Random) =>
  pick(
    next,
    '',
    '[ERROR] ',
    'E: ',
    `${time(next)} ERROR desk.Bookings - `,
    `[2026-11-${int(next, 10, 29)}T${time(next)}:00Z] error: `,
  )
export const OTHERS: readonly Cause[] = [
  check('ports of a list', (next) => `ports: expected [${list(next)}] to equal [${list(next)}]`),
  check('ports of another list', (next) => `vessels: expected [${list(next)}] to equal [${list(next)}]`),
  check(
    'a body',
    (next) =>
      `body differs: ` +
      `{"ref":"${ref(next)}","seats":[${int(next, 1, 9)},${int(next, 1, 9)}]} ` +
      `is not {"ref":"${ref(next)}","seats":[]}`,
  ),
  check(
    'is missing a word',
    (next) =>
      `Expected the text of dialog "Refund" to contain '${amount(next)} EUR', ` +
      `but it was '${pick(next, '', amount(next))}'`,
  ),
  check(
    'cut off',
    (next) =>
      `The notice reads "Because of the storm the sailings at ${time(next)} ` +
      `and ${time(next)} to ${port(next)} are ` +
      `can${pick(next, '…', '...', 'celled"')}`,
  ),
  check(
    'an attribute',
    (next) =>
      `attribute "href" of link "Tickets": expected "/tickets/${ref(next)}", ` +
      `found "/login?next=/tickets/${ref(next)}"`,
  ),
  check(
    'another attribute',
    (next) =>
      `attribute "target" of link "Tickets": expected "_blank", found "${pick(next, '_self', '_top')}"`,
  ),
  {
    cause: 'a deadlock',
    say: (next) => ({
      kind: 'data',
      message:
        `${level(next)}deadlock detected: Process ${int(next, 100, 9999)} waits ` +
        `for ShareLock on transaction ${int(next, 1000, 99_999)}; blocked by ` +
        `process ${int(next, 100, 9999)}.`,
    }),
  },
  {
    cause: 'a check constraint',
    say: (next) => ({
      kind: 'data',
      message:
        `${level(next)}new row for relation "passage" violates check constraint ` +
        `"seats_left": ${int(next, -9, -1)}`,
    }),
  },
  {
    cause: 'another check constraint',
    say: (next) => ({
      kind: 'data',
      message:
        `${level(next)}new row for relation "passage" violates check constraint ` +
        `"vehicle_length": ${int(next, 5, 20)}`,
    }),
  },
  {
    cause: 'Ruby',
    say: (next) => ({
      kind: 'script',
      message: "NoMethodError: undefined method `berth' for nil:NilClass",
      stack: [
        `/usr/lib/ruby/gems/3.1.0/gems/rack-2.2.${int(next, 1, 9)}/lib/rack/builder.rb:${int(next, 10, 200)}:in \`call'`,
        `/srv/quay/${hex(next, 6)}/app/berths.rb:${int(next, 10, 200)}:in \`berth_of'`,
      ].join('\n'),
    }),
  },
  {
    cause: 'PHP',
    say: (next) => ({
      kind: 'script',
      message:
        `PHP Fatal error:  Uncaught TypeError: Unsupported operand types: string ` +
        `+ int in /var/www/${int(next, 1, 30)}/fares.php:${int(next, 10, 300)}`,
      stack: [
        `#0 /var/www/${int(next, 1, 30)}/vendor/laravel/pipeline.php(${int(next, 10, 300)}): ` +
          `Illuminate\\Pipeline->run()`,
        `#1 /var/www/${int(next, 1, 30)}/fares.php(${int(next, 10, 300)}): Ferry\\Fares->sum()`,
      ].join('\n'),
    }),
  },
  {
    cause: 'Rust',
    say: (next) => ({
      kind: 'script',
      message:
        `thread 'main' panicked at ` +
        `src/tide.rs:${int(next, 10, 300)}:${int(next, 1, 80)}: called ` +
        `\`Option::unwrap()\` on a \`None\` value`,
      stack: [
        `   0: rust_begin_unwind`,
        `   1: core::panicking::panic_fmt`,
        `   2: core::option::unwrap_failed`,
        `   3: tides::tide::high_water`,
        ``,
      ].join('\n'),
    }),
  },
  {
    cause: 'nested in Python',
    say: (next) => ({
      kind: 'script',
      message: 'app.errors.ManifestError: manifest cannot be read',
      stack: [
        `Traceback (most recent call last):`,
        `  File "/srv/${int(next, 1, 9)}/app/store.py", line ${int(next, 1, 99)}, in read_rows`,
        `    return open(path)`,
        `FileNotFoundError: [Errno 2] No such file or directory: '/data/manifest-${int(next, 1, 999)}.csv'`,
        ``,
        `The above exception was the direct cause of the following exception:`,
        ``,
        `Traceback (most recent call last):`,
        `  File "/srv/${int(next, 1, 9)}/app/views.py", line ${int(next, 1, 99)}, in manifest`,
        `    rows = read_rows()`,
        `app.errors.ManifestError: manifest cannot be read`,
      ].join('\n'),
    }),
  },
  {
    cause: 'nested in Python, elsewhere',
    say: (next) => ({
      kind: 'script',
      message: 'app.errors.ManifestError: manifest cannot be read',
      stack: [
        `Traceback (most recent call last):`,
        `  File "/srv/${int(next, 1, 9)}/app/store.py", line ${int(next, 1, 99)}, in read_rows`,
        `    return parse(text)`,
        `UnicodeDecodeError: 'utf-8' codec can't decode byte 0x${hex(next, 2)} in position ` +
          `${int(next, 0, 9999)}: invalid start byte`,
        ``,
        `The above exception was the direct cause of the following exception:`,
        ``,
        `Traceback (most recent call last):`,
        `  File "/srv/${int(next, 1, 9)}/app/views.py", line ${int(next, 1, 99)}, in manifest`,
        `    rows = read_rows()`,
        `app.errors.ManifestError: manifest cannot be read`,
      ].join('\n'),
    }),
  },
  {
    cause: 'a certificate',
    say: (next) => ({
      kind: 'page',
      message: `${level(next)}certificate of ${host(next)} expired on ${date(next)}`,
    }),
  },
  {
    cause: 'memory',
    say: (next) => ({
      kind: 'agent',
      message:
        `${level(next)}the browser used ${int(next, 2000, 9000)} MB of ` +
        `${int(next, 2000, 9000)} MB and was ended (pid ` +
        `${int(next, 100, 99_999)})`,
    }),
  },
  {
    cause: 'the mail is late',
    say: (next) => ({
      kind: 'check',
      message:
        `${pick(next, '1 mail', `${int(next, 2, 5)} mails`)} for ` +
        `ref.${hex(next, 6)}@ferry.invalid within ${int(next, 10, 60)} seconds`,
    }),
  },
]
