/** @jest-environment ./jest/page.cjs */
import { jest } from '@jest/globals'
import { createEvent, fireEvent, render, screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import { useRef } from 'react'
import type { Step } from '@/core/model'
import type { AskedDialog, ElementFacts, LiveList } from '@/core/live'
import { Around } from '../testing/around'
import '../testing/browser'
import { AnswerDialog } from './AnswerDialog'
import { EndSession } from './EndSession'
import type { Input } from './input'
import { OpenList } from './OpenList'
import { People } from './People'
import { Picked } from './Picked'
import { Picture } from './Picture'
import type { RecordedStep } from '@/core/live'
import { Recorded, type Made } from './Recorded'
import { AT_FIRST, type SessionState } from './session-state'
import type { Order } from './useLiveLine'
import { Remark } from './Remark'
import { YourTurn } from './YourTurn'

const around = (children: React.ReactNode) => render(<Around role="tester">{children}</Around>)
const FARE: ElementFacts = {
  tag: 'span',
  testId: 'fare-total',
  css: '#f-83921',
  value: '86.00',
  counts: { testId: 1, css: 1 },
}

type ShownProps = {
  onInput(order: Input): void
  driving?: boolean
  onPick?(part: { x: number; y: number; w?: number; h?: number }): void
}

describe('the picture', () => {
  function Shown({ onInput, driving = true, onPick }: ShownProps) {
    const canvas = useRef<HTMLCanvasElement>(null)
    const nothing = () => {}
    return (
      <Picture
        canvas={canvas}
        view={{ width: 1280, height: 800 }}
        driving={driving}
        picking={onPick !== undefined}
        list={null}
        box={null}
        cursors={[]}
        onInput={onInput}
        onPick={onPick ?? nothing}
        onPoint={nothing}
        onChoose={nothing}
      />
    )
  }
  const shown = (driving = true) => {
    const onInput = jest.fn<(order: Input) => void>()
    around(<Shown onInput={onInput} driving={driving} />)
    return {
      onInput,
      field: screen.getByRole('textbox', { name: /What you type/ }),
      canvas: screen.getByRole('img'),
    }
  }

  test('who picks points at something, or draws around a part', () => {
    const onPick = jest.fn<NonNullable<ShownProps['onPick']>>()
    const onInput = jest.fn<(order: Input) => void>()
    around(<Shown onInput={onInput} onPick={onPick} />)
    const canvas = screen.getByRole('img')
    canvas.getBoundingClientRect = () => new DOMRect(0, 0, 1280, 800)
    const drag = (from: [number, number], to: [number, number]) => {
      fireEvent.mouseDown(canvas, { clientX: from[0], clientY: from[1] })
      fireEvent.mouseMove(canvas, { clientX: to[0], clientY: to[1] })
      fireEvent.mouseUp(canvas, { clientX: to[0], clientY: to[1] })
    }
    drag([100, 80], [102, 81])
    expect(onPick).toHaveBeenLastCalledWith({ x: 100, y: 80 })
    drag([300, 200], [100, 80])
    expect(onPick).toHaveBeenLastCalledWith({ x: 100, y: 80, w: 200, h: 120 })
    expect(onInput).not.toHaveBeenCalled()
  })

  test('keys go to the browser, and are this page’s no more; Shift and Escape leave it', () => {
    const { onInput, field, canvas } = shown()
    fireEvent.mouseDown(canvas, { button: 0, detail: 1 })
    expect(document.activeElement).toBe(field)
    const press = createEvent.keyDown(field, { key: 's', code: 'KeyS' })
    fireEvent(field, press)
    expect(press.defaultPrevented).toBe(true)
    expect(onInput).toHaveBeenLastCalledWith({ do: 'key', type: 'down', key: 's', code: 'KeyS', with: [] })
    fireEvent.keyDown(field, { key: 'Escape', shiftKey: true })
    expect(document.activeElement).not.toBe(field)
    expect(onInput).toHaveBeenCalledTimes(2) // the mouse, and the letter
  })

  test('what is pasted or composed goes as text', () => {
    const { onInput, field } = shown()
    fireEvent.paste(field, { clipboardData: { getData: () => 'FS-40121' } })
    fireEvent.compositionEnd(field, { data: 'é' })
    expect(onInput.mock.calls.map(([order]) => order)).toEqual([
      { do: 'text', text: 'FS-40121' },
      { do: 'text', text: 'é' },
    ])
  })

  test('who only watches sends nothing', () => {
    const { onInput, canvas } = shown(false)
    fireEvent.mouseDown(canvas, { button: 0, detail: 1 })
    fireEvent.mouseUp(canvas, { button: 0, detail: 1 })
    expect(onInput).not.toHaveBeenCalled()
  })
})

test('a list of the page is walked by arrows from what is chosen, and chosen from by Enter', async () => {
  const list: LiveList = {
    box: { x: 0, y: 0, w: 10, h: 10 },
    several: false,
    options: [
      { label: 'Skerrow', value: 's', chosen: false },
      { label: 'Tolva', value: 't', chosen: true },
      { label: 'Quillhaven', value: 'q', chosen: false },
    ],
  }
  const onChoose = jest.fn<(values: string[]) => void>()
  around(<OpenList list={list} style={{ left: 0, top: 0, width: 0, height: 0 }} onChoose={onChoose} />)
  expect(document.activeElement?.textContent).toBe('Tolva')
  const user = userEvent.setup()
  await user.keyboard('{ArrowDown}{Enter}')
  expect(onChoose).toHaveBeenLastCalledWith(['q'])
  await user.keyboard('{ArrowUp}{ArrowUp}{ArrowUp}{Enter}')
  expect(onChoose).toHaveBeenLastCalledWith(['s'])
})

test('what was picked says what finds it and what is left out; a check is added', () => {
  const onAdd = jest.fn<(steps: Step[]) => void>()
  around(<Picked facts={FARE} onAdd={onAdd} onClose={() => {}} />)
  expect(screen.getByText(', found once')).not.toBeNull()
  expect(screen.getByText(/another one tomorrow/)).not.toBeNull()
  fireEvent.click(screen.getByRole('button', { name: /its text is/ }))
  expect(onAdd.mock.calls[0]![0]).toMatchObject([{ verb: 'check', matcher: { equals: '86.00' } }])
})

test('a check of what only the pointer shows has the pointer go there first', () => {
  const onAdd = jest.fn<(steps: Step[]) => void>()
  const shownBy = { role: 'button', name: 'Extras' }
  around(<Picked facts={{ ...FARE, shownBy }} onAdd={onAdd} onClose={() => {}} />)
  expect(screen.getByText(/only while the pointer is on .*Extras/)).not.toBeNull()
  fireEvent.click(screen.getByRole('button', { name: /it is seen/ }))
  expect(onAdd.mock.calls[0]![0]).toMatchObject([{ verb: 'hover', on: shownBy }, { verb: 'check' }])
})

const RECORDED = {
  values: { reference: 'FS-40121' },
  parameters: ['lead'],
  routines: [],
  place: 'at the end',
  editable: true,
  onForget: () => {},
}

test('what was typed is named: as a value that is there, as a new parameter, or not after all', async () => {
  const typed = (label: string, value: string) => ({
    step: { verb: 'type', in: { label }, value } as Step,
    atMs: 1,
  })
  const onInsert = jest.fn(async (_: Step[], __: Made) => {})
  const steps = [typed('Reference', 'FS-40121'), typed('Lead', 'Isla Fenwick'), typed('Cabin', 'none')]
  around(<Recorded steps={steps} {...RECORDED} onInsert={onInsert} />)
  fireEvent.click(screen.getByRole('button', { name: 'it is reference' }))
  for (const _ of [1, 2]) fireEvent.click(screen.getAllByRole('button', { name: 'as a parameter' })[0]!)
  fireEvent.click(screen.getAllByRole('button', { name: 'as it was typed' })[2]!)
  await userEvent.click(screen.getByRole('button', { name: /Insert/ }))
  const [inserted, made] = onInsert.mock.calls[0]!
  expect(inserted.map((step) => 'value' in step && step.value)).toEqual(['${reference}', '${lead_2}', 'none'])
  expect(made).toEqual({ parameters: { lead_2: 'Isla Fenwick' }, columns: {} })
})

test('a name that was typed may be another one each time, and is offered where it stands once more', async () => {
  const typed = (label: string): RecordedStep => ({
    step: { verb: 'type', in: { label }, value: 'Isla Fenwick' },
    atMs: 1,
  })
  const onInsert = jest.fn(async (_: Step[], __: Made) => {})
  around(<Recorded steps={[typed('Lead'), typed('On the card')]} {...RECORDED} onInsert={onInsert} />)
  fireEvent.click(screen.getAllByRole('button', { name: 'another name each time' })[0]!)
  fireEvent.click(screen.getByRole('button', { name: 'it is lead_2' }))
  await userEvent.click(screen.getByRole('button', { name: /Insert/ }))
  const [inserted, made] = onInsert.mock.calls[0]!
  expect(inserted.map((step) => 'value' in step && step.value)).toEqual(['${lead_2}', '${lead_2}'])
  expect(made).toEqual({ parameters: { lead_2: '${fake.name}' }, columns: {} })
})

test('what was typed becomes a column; the first steps become the routine that does them', async () => {
  const typed = (label: string, value: string): RecordedStep => ({
    step: { verb: 'type', in: { label }, value },
    atMs: 1,
  })
  const steps = [typed('Name', 'wren'), typed('Deck', 'boat'), typed('Lead', 'Isla')]
  const routine = {
    key: 'desk',
    title: 'At the desk',
    parameters: ['who'],
    steps: [typed('Name', '${who}'), typed('Deck', 'boat')].map(({ step }) => step),
  }
  const onInsert = jest.fn(async (_: Step[], __: Made) => {})
  around(<Recorded steps={steps} {...RECORDED} routines={[routine]} onInsert={onInsert} />)
  fireEvent.click(screen.getAllByRole('button', { name: 'as a column' })[2]!)
  fireEvent.click(screen.getByRole('button', { name: 'Use it instead' }))
  await userEvent.click(screen.getByRole('button', { name: /Insert/ }))
  expect(onInsert).toHaveBeenLastCalledWith(
    [
      { verb: 'use', routine: 'desk', with: { who: 'wren' } },
      { verb: 'type', in: { label: 'Lead' }, value: '${row.lead_2}' },
    ],
    { parameters: {}, columns: { lead_2: 'Isla' } },
  )
})

test('what was recorded says what a person has to decide; a step of another version breaks nothing', async () => {
  const steps = [
    { step: { verb: 'press', key: 'Enter' } as Step, atMs: 1, problem: 'choose how it is found' },
    { step: { verb: 'teleport' } as unknown as Step, atMs: 2 },
  ]
  const onInsert = jest.fn(async (_: Step[], __: Made) => {})
  around(<Recorded steps={steps} {...RECORDED} onInsert={onInsert} />)
  expect(screen.getByText('choose how it is found')).not.toBeNull()
  expect(screen.getByText('a step that is not known here')).not.toBeNull()
  await userEvent.click(screen.getByRole('button', { name: /Insert at the end/ }))
  expect(onInsert.mock.calls[0]![0]).toHaveLength(2)
})

describe('people', () => {
  const WREN = { id: 1, name: 'Wren Adeyemi', mayDrive: true }
  const EDDA = { id: 2, name: 'Edda Ruiz', mayDrive: false }
  const shown = (state: Partial<SessionState>) => {
    const orders: Order[] = []
    around(<People state={{ ...AT_FIRST, ...state }} say={(order) => void orders.push(order)} />)
    return orders
  }

  test('who may not drive is offered nothing', () => {
    shown({ you: 2, driver: 1, people: [WREN, EDDA] })
    expect(screen.getByRole('status').textContent).toContain('Wren Adeyemi drives')
    expect(screen.queryByRole('button')).toBeNull()
  })
  test('who is asked hands over', () => {
    const mirela = { ...EDDA, name: 'Mirela Voss', mayDrive: true }
    const orders = shown({ you: 1, driver: 1, asking: 2, people: [WREN, mirela] })
    fireEvent.click(screen.getByRole('button', { name: 'Hand over' }))
    expect(orders).toEqual([{ do: 'hand-over', to: 2 }])
  })
})

test.each([
  ['Undo and end', true],
  ['End, and leave what was made', false],
])('a session ends as it is said: %s', (name, undo) => {
  const onEnd = jest.fn<(undo: boolean) => void>()
  around(<EndSession disabled={false} onEnd={onEnd} />)
  fireEvent.click(screen.getByRole('button', { name: 'End' }))
  expect(onEnd).not.toHaveBeenCalled()
  fireEvent.click(screen.getByRole('button', { name }))
  expect(onEnd).toHaveBeenCalledWith(undo)
})

describe('a dialog of the browser', () => {
  const shown = (asked: AskedDialog) => {
    const onAnswer = jest.fn<(answer: 'accept' | 'dismiss', text?: string) => void>()
    around(<AnswerDialog asked={asked} onAnswer={onAnswer} />)
    return onAnswer
  }

  test('a text that is asked for goes along, also an empty one', async () => {
    const onAnswer = shown({ kind: 'prompt', words: 'How many?', suggested: '2' })
    const user = userEvent.setup()
    await user.clear(screen.getByLabelText('Text'))
    await user.click(screen.getByRole('button', { name: 'OK' }))
    expect(onAnswer).toHaveBeenCalledWith('accept', '')
  })

  test('one that only says something has no other answer; Escape dismisses', async () => {
    const onAnswer = shown({ kind: 'alert', words: 'The 12:05 is full', suggested: '' })
    expect(screen.queryByRole('button', { name: 'Cancel' })).toBeNull()
    expect(screen.queryByRole('textbox')).toBeNull()
    await userEvent.setup().keyboard('{Escape}')
    expect(onAnswer).toHaveBeenCalledWith('dismiss')
  })

  test('of a browser that does not tell what it is a text goes along where one was written', async () => {
    const onAnswer = shown({ words: 'Leave the pier?', suggested: '' })
    const user = userEvent.setup()
    await user.click(screen.getByRole('button', { name: 'OK' }))
    expect(onAnswer).toHaveBeenLastCalledWith('accept')
    await user.type(screen.getByLabelText(/Text/), '3')
    await user.click(screen.getByRole('button', { name: 'OK' }))
    expect(onAnswer).toHaveBeenLastCalledWith('accept', '3')
  })
})

describe('a step for a person', () => {
  const shown = (disabled = false) => {
    const say = jest.fn<(order: Order) => void>()
    around(
      <YourTurn asked={{ words: 'Look at the card', expected: 'Two seats' }} disabled={disabled} say={say} />,
    )
    return say
  }

  test('says what to do and to expect; a note goes with the verdict', async () => {
    const say = shown()
    expect(screen.getByRole('region', { name: 'Your turn' }).textContent).toContain('Expect Two seats')
    const user = userEvent.setup()
    await user.type(screen.getByLabelText('Note'), 'one seat, y')
    expect(say).not.toHaveBeenCalled() // what is typed is no key
    await user.click(screen.getByRole('button', { name: /It is not so/ }))
    expect(say).toHaveBeenCalledWith({ do: 'verdict', is: 'failed', note: 'one seat, y' })
  })

  test('who watches gives no verdict', () => {
    shown(true)
    expect(screen.getByRole('button', { name: /It is so/ }).hasAttribute('disabled')).toBe(true)
  })
})

describe('what somebody notices', () => {
  test('is written down by key; empty it is nothing', async () => {
    const say = jest.fn<(order: Order) => void>()
    around(<Remark disabled={false} say={say} />)
    const user = userEvent.setup()
    await user.keyboard('w')
    const dialog = screen.getByRole('dialog')
    expect(screen.getByRole('button', { name: 'Keep the note' }).hasAttribute('disabled')).toBe(true)
    await user.type(screen.getByLabelText('In words'), ' The fares jump ')
    await user.click(screen.getByRole('button', { name: 'Something is wrong' }))
    expect(say).toHaveBeenCalledWith({ do: 'remark', text: 'The fares jump', wrong: true })
    expect(dialog.isConnected).toBe(false)
  })
})
