/** What each verb of a step does, in a few sentences: the page of help, and what the editor shows. */
import type { Verb } from '../model'

/** The first sentence says what it does; an example follows, as it is written in a case. */
export const VERB_HELP: Record<Verb, { text: string; example: string }> = {
  open: {
    text:
      'Opens a page of an application. Its address begins with the key of the application; stage and ' +
      'build of the run decide where that is. The step ends when the page has loaded, or fails after 15 ' +
      'seconds.',
    example: '- open: booking:/search',
  },
  go: {
    text: 'Goes back, forward, or loads the page again, as the buttons of a browser do.',
    example: '- go: back',
  },
  click: {
    text:
      'Clicks an element once it is there, still, and not covered. It may be clicked twice (`times`), ' +
      'with another button, with keys held (`with`), or be held down (`hold`).',
    example: '- click: { on: { role: button, name: Find sailings } }',
  },
  type: {
    text:
      'Writes a text into a field, in place of what was there. A secret is written as `${secret.NAME}`: ' +
      'dots stand for it in the log, and no screen shows it.',
    example: '- type: { in: { label: Passengers }, value: "3" }',
  },
  choose: {
    text:
      'Chooses an option of a list by its words, or ticks a box (`yes`, `no`). `also` names further ' +
      'options of a list that takes several.',
    example: '- choose: { in: { label: To }, value: Quillhaven }',
  },
  press: {
    text:
      'Presses a key, or keys together, in a field or wherever the page has its focus. Keys have the same ' +
      'names on all engines.',
    example: '- press: { key: Enter, on: { label: Passengers } }',
  },
  hover: {
    text: 'Moves the pointer over an element, as far as a menu or a hint needs it.',
    example: '- hover: { on: { text: Timetable } }',
  },
  drag: {
    text: 'Drags one element to another with real moves of the pointer.',
    example: '- drag: { from: { text: Car 4 }, to: { testId: lower-deck } }',
  },
  upload: {
    text:
      'Gives a file to a field for files, or drops it on what takes files. Its name and its text stand in ' +
      'the step; `more` gives further ones.',
    example: '- upload: { in: { label: Passenger list }, name: list.csv, text: "reference\\n" }',
  },
  scroll: {
    text:
      'Scrolls to an element, by some pixels, or on and on until something is there, as long lists need ' +
      'it.',
    example: '- scroll: { until: { text: "22:10" }, in: { testId: sailings } }',
  },
  window: {
    text:
      'Goes on in another window or tab, by its title or address or the newest one, or closes the one at ' +
      'work.',
    example: '- window: { to: newest }',
  },
  dialog: {
    text: 'Says how the next dialog of the browser is answered; it stands before the step that brings it.',
    example: '- dialog: { answer: accept }',
  },
  network: {
    text:
      'Changes what requests meet from now on: they fail, get an answer from the step, come late, or the ' +
      'browser is offline. It holds until `usual` takes it back.',
    example: '- network: { does: fail, requests: "*/api/tides*" }',
  },
  'signed-in': {
    text:
      'Keeps who is signed in for later cases of the run, or goes on as who an earlier one kept. What is ' +
      'kept is sealed, and in no log.',
    example: '- signed-in: { does: keep, as: deskClerk }',
  },
  wait: {
    text:
      'Waits for an element to be in a state, or for a time. A condition is better: it goes on as soon as ' +
      'it holds, and says what it waited for.',
    example: '- wait: { for: { text: Boarding }, state: visible }',
  },
  read: {
    text:
      'Reads a text, a value or an attribute for later steps, or a part of it by a pattern. With ' +
      '`handoff` later cases of the run have it, too.',
    example: '- read: { of: { testId: reference }, as: reference, handoff: true }',
  },
  check: {
    text:
      'Compares what is there with what is expected, again and again until it holds or its time is up. ' +
      'Texts, values, counts, states and attributes of an element; address, title, downloads, dialogs of ' +
      'the page; a picture of the screen. `soft` records a failure and goes on.',
    example: '- check: { of: { testId: total }, text: { equals: "£ 86.40" } }',
  },
  call: {
    text:
      'Asks an application’s API: method, address, headers and body; expects a status and values at JSON ' +
      'paths, and keeps values by name.',
    example: '- call: { method: GET, url: "manifest:/sailings/7", expect: { status: 200 } }',
  },
  query: {
    text:
      'Reads a database that an administrator set up, as a role that cannot write. Values go in as `$1`, ' +
      '`$2`; rows, cells and columns are compared or kept.',
    example: '- query: { database: ferry, sql: "select 1", expect: { rows: 1 } }',
  },
  use: {
    text:
      'Carries out a routine with the values it is given. Its own undo steps are done when the case is ' +
      'over.',
    example: '- use: pay-by-card\n  with: { card: "5555 0000 1111 2222" }',
  },
  block: {
    text: 'Puts steps under a title, which the log shows as one. A limit of a block is one for all of it.',
    example: '- block: Pay\n  steps:\n    - click: { on: { text: Pay now } }',
  },
  if: {
    text:
      'Carries out steps when an element is visible or hidden, or a value is as it says, and others ' +
      '(`else`) when not. It is looked at once: nothing is waited for.',
    example: '- if: { visible: { text: Storm notice } }\n  steps:\n    - click: { on: { text: Understood } }',
  },
  repeat: {
    text:
      'Repeats steps: so many times, while something is visible, or until a condition holds, and never ' +
      'more than 200 times.',
    example: '- repeat: { times: 3 }\n  steps:\n    - click: { on: { text: Next day } }',
  },
  note: {
    text: 'Writes words into the log, with values filled in.',
    example: '- note: "Booked as ${reference}"',
  },
  do: {
    text:
      'Is for a person: what to do, and what to expect. A live session of the case waits there until the ' +
      'person says whether it is so; a run without a person ends there.',
    example: '- do: Hold the card to the reader\n  expect: A green light',
  },
  meet: {
    text: 'Waits in a joint case until all its roles have come to the point of this name.',
    example: '- meet: boarding-open',
  },
}
