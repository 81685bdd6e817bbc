/** Failures of services in several languages, by their cause. */
import type { Random } from '../../execution/random'
import { hex, host, int, logged, pick, ref, uuid, type Cause } from './making'

const java = (next: Random, message: string, own: string, cause?: string) => ({
  kind: 'script',
  message: message.split('\n')[0]!,
  stack: [
    message,
    `\tat ` +
      `org.springframework.web.servlet.DispatcherServlet.doDispatch(DispatcherServlet.java:${int(next, 900, 1100)})`,
    ...(cause ? [`Caused by: ${cause}`] : []),
    `\tat java.base/java.util.Optional.orElseThrow(Optional.java:${int(next, 100, 400)})`,
    `\tat ${own}:${int(next, 10, 400)})`,
    `\tat java.base/java.lang.Thread.run(Thread.java:${int(next, 800, 900)})`,
    `\t... ${int(next, 20, 70)} more`,
  ].join('\n'),
})
const python = (next: Random, error: string, fn: string) => ({
  kind: 'script',
  message: error,
  stack: [
    'Traceback (most recent call last):',
    `  File "/usr/lib/python3.11/threading.py", line ${int(next, 100, 900)}, in run`,
    '    self._target(*self._args)',
    `  File "/srv/manifest-${int(next, 1, 40)}/app/views.py", line ${int(next, 10, 400)}, in handle`,
    '    return load(request)',
    `  File "/srv/manifest-${int(next, 1, 40)}/app/load.py", line ${int(next, 10, 400)}, in ${fn}`,
    '    row = rows[0]',
    error,
  ].join('\n'),
})
const go = (next: Random, message: string, fn: string) => ({
  kind: 'script',
  message: [
    `panic: ${message}`,
    ``,
    `goroutine ${int(next, 1, 900)} [running]:`,
    `${fn}(0x${hex(next, 8)}, 0x${hex(next, 6)})`,
    `\t/build/${hex(next, 6)}/gate/scan.go:${int(next, 10, 300)} +0x${hex(next, 3)}`,
    `net/http.HandlerFunc.ServeHTTP(0x${hex(next, 8)})`,
    `\t/usr/local/go/src/net/http/server.go:${int(next, 1000, 3000)} +0x${hex(next, 2)}`,
  ].join('\n'),
})
export const SERVICES: readonly Cause[] = [
  {
    cause: 'no passenger',
    say: (next) =>
      java(
        next,
        `org.springframework.web.util.NestedServletException: Request processing failed`,
        'com.ferry.manifest.Passengers.find(Passengers.java',
        `java.util.NoSuchElementException: no passenger ${ref(next)}`,
      ),
  },
  {
    cause: 'no sailing',
    say: (next) =>
      java(
        next,
        `org.springframework.web.util.NestedServletException: Request processing failed`,
        'com.ferry.manifest.Sailings.find(Sailings.java',
        `java.util.NoSuchElementException: no sailing ${int(next, 100, 2300)}`,
      ),
  },
  {
    cause: 'null in passengers',
    say: (next) =>
      java(
        next,
        'java.lang.NullPointerException: Cannot invoke "String.length()" because "name" is null',
        'com.ferry.manifest.Passengers.list(Passengers.java',
      ),
  },
  {
    cause: 'unique constraint of refs',
    say: (next) =>
      java(
        next,
        [
          'org.postgresql.util.PSQLException: ERROR: duplicate key value violates unique constraint ' +
            '"booking_ref_key"',
          `  Detail: Key (ref)=(${ref(next)}) already exists.`,
        ].join('\n'),
        'com.ferry.desk.Bookings.insert(Bookings.java',
      ),
  },
  {
    cause: 'unique constraint of cards',
    say: (next) =>
      java(
        next,
        [
          'org.postgresql.util.PSQLException: ERROR: duplicate key value violates unique constraint ' +
            '"card_no_key"',
          `  Detail: Key (no)=(${int(next, 1, 99_999)}) already exists.`,
        ].join('\n'),
        'com.ferry.desk.Bookings.insert(Bookings.java',
      ),
  },
  {
    cause: 'no column',
    say: (next) => ({
      kind: 'data',
      message: logged(next, `ERROR: column "boarded_at" does not exist at character ${int(next, 8, 400)}`),
    }),
  },
  {
    cause: 'no relation',
    say: (next) => ({
      kind: 'data',
      message: logged(next, `ERROR: relation "passage" does not exist at character ${int(next, 8, 400)}`),
    }),
  },
  { cause: 'a key in Python', say: (next) => python(next, `KeyError: 'vessel'`, 'vessel_of') },
  {
    cause: 'an index in Python',
    say: (next) => python(next, 'IndexError: list index out of range', 'first_of'),
  },
  {
    cause: 'a value in Python',
    say: (next) =>
      python(
        next,
        `ValueError: invalid literal for int() with base 10: ` +
          `'${pick(next, 'x', 'forty', '4O', '')}${int(next, 1, 99)}'`,
        'number_of',
      ),
  },
  {
    cause: 'nil in Go',
    say: (next) =>
      go(
        next,
        'runtime error: invalid memory address or nil pointer dereference',
        'ferry/gate.(*Scanner).Read',
      ),
  },
  {
    cause: 'an index in Go',
    say: (next) =>
      go(
        next,
        `runtime error: index out of range [${int(next, 1, 90)}] with length ${int(next, 0, 90)}`,
        'ferry/gate.(*Scanner).Line',
      ),
  },
  {
    cause: 'refused',
    say: (next) => ({ kind: 'data', message: logged(next, `connect ECONNREFUSED ${host(next)}`) }),
  },
  {
    cause: 'timed out',
    say: (next) => ({ kind: 'data', message: logged(next, `connect ETIMEDOUT ${host(next)}`) }),
  },
  {
    cause: 'status 404',
    say: (next) => ({
      kind: 'check',
      message: `call manifest:/api/sailings/${ref(next)} answered with 404, expected 200`,
    }),
  },
  {
    cause: 'status 409',
    say: (next) => ({
      kind: 'check',
      message: `call manifest:/api/sailings/${ref(next)} answered with 409, expected 200`,
    }),
  },
  {
    cause: 'too many',
    say: (next) => ({
      kind: 'script',
      message:
        `Request failed with status code 429, retry after ${int(next, 1, 60)} s, ` + `request ${uuid(next)}`,
    }),
  },
  {
    cause: 'a gateway',
    say: (next) => ({
      kind: 'script',
      message:
        `Request failed with status code 502, retry after ${int(next, 1, 60)} s, ` + `request ${uuid(next)}`,
    }),
  },
  {
    cause: '.NET',
    say: (next) => ({
      kind: 'script',
      message: `System.InvalidOperationException: Sequence contains no elements`,
      stack: [
        `   at System.Linq.ThrowHelper.ThrowNoElementsException()`,
        `   at System.Linq.Enumerable.First[TSource](IEnumerable\`1 source)`,
        '   at Ferry.Desk.Refunds.Newest(Int32 booking) in ' +
          `C:\\build\\${int(next, 1, 99)}\\Desk\\Refunds.cs:line ${int(next, 10, 400)}`,
      ].join('\n'),
    }),
  },
  {
    cause: '.NET elsewhere',
    say: (next) => ({
      kind: 'script',
      message: `System.InvalidOperationException: Sequence contains no elements`,
      stack: [
        `   at System.Linq.ThrowHelper.ThrowNoElementsException()`,
        '   at Ferry.Desk.Cards.Last(Int32 booking) in ' +
          `C:\\build\\${int(next, 1, 99)}\\Desk\\Cards.cs:line ${int(next, 10, 400)}`,
      ].join('\n'),
    }),
  },
]
