/** What a person does with mouse and keys, as it comes. */
import type { KeyInput, Page } from 'puppeteer-core'
import type { Input } from '../driver/live'

export async function input({ mouse, keyboard }: Page, order: Input): Promise<void> {
  switch (order.do) {
    case 'mouse': {
      const { type, x, y, button, clicks: clickCount, with: held } = order
      await mouse.move(x, y)
      if (type === 'move' || button === 'none') return
      // They were pressed in another window.
      for (const key of held) await keyboard.down(key)
      try {
        await (type === 'down' ? mouse.down({ button, clickCount }) : mouse.up({ button, clickCount }))
      } finally {
        for (const key of held.toReversed()) await keyboard.up(key)
      }
      return
    }
    case 'wheel':
      await mouse.move(order.x, order.y)
      return mouse.wheel({ deltaX: order.dx, deltaY: order.dy })
    case 'key':
      return order.type === 'down' ? keyboard.down(order.key as KeyInput) : keyboard.up(order.key as KeyInput)
    case 'text':
      return keyboard.sendCharacter(order.text)
  }
}
