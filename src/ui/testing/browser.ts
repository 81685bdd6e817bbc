/** What browsers have and jsdom does not, for tests of components. Everything is of one size: lists that draw
 * only what is in view draw a window of their lines. */
import { TextDecoder, TextEncoder } from 'node:util'
import { configure } from '@testing-library/react'

class Watcher {
  observe() {}
  unobserve() {}
  disconnect() {}
}

/** What is waited for comes by itself: how long it takes says how busy the machine is, nothing more. */
configure({ asyncUtilTimeout: 20_000 })

Object.assign(globalThis, { TextDecoder, TextEncoder })
globalThis.ResizeObserver ??= Watcher
globalThis.requestIdleCallback ??= (work) => Number(setTimeout(work, 0))
globalThis.cancelIdleCallback ??= (id) => clearTimeout(id)
Element.prototype.scrollIntoView ??= () => {}
Element.prototype.scrollTo ??= () => {}
Element.prototype.hasPointerCapture ??= () => false
Blob.prototype.arrayBuffer ??= function (this: Blob) {
  const reader = new FileReader()
  return new Promise<ArrayBuffer>((resolve) => {
    reader.onload = () => resolve(reader.result as ArrayBuffer)
    reader.readAsArrayBuffer(this)
  })
}

const SIZE = { clientWidth: 800, clientHeight: 600 }
for (const [name, px] of Object.entries(SIZE))
  Object.defineProperty(Element.prototype, name, { configurable: true, get: () => px })

// Places of the pointer are those of the mouse.
for (const view of [globalThis, document.defaultView!])
  if (!('PointerEvent' in view)) Object.assign(view, { PointerEvent: MouseEvent })
