/** Pages every driver has to be able to work on. */
import { createServer, type Server } from 'node:http'
import { LIBRARY_PAGES, packageFile } from './libraries'

const PORTS = ['Skerrow', 'Tolva', 'Ardmore'].map((port) => `<li style="height:40px">${port}</li>`).join('')
const CONDITIONS = ['zone', 'colours', 'location', 'camera']
  .map((name) => `<p data-testid="${name}"></p>`)
  .join('')

const PAGES: Record<string, string> = {
  '/': `<h1>Start</h1><form action="/sent"><label><span>Name</span><input name="name"
    placeholder="your name"></label><label>Secret<input name="secret" type="password"></label>
    <label><span>Port</span><select name="port"><option>Skerrow</option><option
      value="T">Tolva</option></select></label><label><input type="checkbox" name="tick"
      value="yes"><span>Agree</span></label>
    <input type="hidden" name="hidden" value="h"><button>Send</button></form><a
      href="/second">Second page</a><p data-testid="note">  some
    text </p><ul><li>one</li><li>two</li></ul><p hidden>never seen</p>`,
  '/asks': `<button onclick="document.querySelector('p').textContent = prompt('Where to?')">Ask</button><p
    data-testid="said">-</p>`,
  '/drawn': `<canvas width="420" height="200"></canvas><p>Fares are per car</p><p data-testid="said">-</p><script>
    const canvas = document.querySelector('canvas')
    const pen = canvas.getContext('2d')
    pen.font = '20px sans-serif'
    const places = [['Choose cabin', 20, 20], ['Upper deck', 20, 110], ['Upper deck', 230, 110]]
    for (const [words, x, y] of places) {
      pen.fillStyle = '#0b3e4a'
      pen.fillRect(x, y, 170, 50)
      pen.fillStyle = '#ffffff'
      pen.fillText(words, x + 20, y + 32)
    }
    canvas.onclick = ({ offsetX, offsetY }) => {
      const hit = places.findIndex(([, x, y]) => offsetX > x && offsetX < x + 170 && offsetY > y && offsetY < y + 50)
      document.querySelector('[data-testid=said]').textContent = 'place ' + hit
    }
  </script>`,
  '/echo': `<label>Word<input></label><label>Again<input readonly></label><p data-testid="got"></p>
    <x-told></x-told><script>
    const told = document.querySelector('x-told').attachShadow({ mode: 'open' })
    document.querySelector('input').oninput = ({ target: { value } }) => {
      document.querySelectorAll('input')[1].value = 'it is ' + value
      const parted = value.slice(0, 9) + '<b>' + value.slice(9) + '</b>.'
      document.querySelector('[data-testid=got]').innerHTML = 'You said ' + parted
      told.innerHTML = '<p>' + value + '</p>'
    }
  </script>`,
  '/late': `<label>Word<input></label><label>Again<input readonly></label><p data-testid="late">-</p><script>
    const [word, again] = document.querySelectorAll('input')
    const late = document.querySelector('[data-testid=late]')
    word.oninput = () => setTimeout(() => {
      again.value = word.value
      late.title = again.value.length
    }, 200)
  </script>`,
  '/deck': `<div data-testid="deck" style="position: relative; width: 300px; height: 200px; background: #dfe9ea">
    <div data-testid="cabin"
      style="position: absolute; left: 40px; top: 60px; width: 60px; height: 30px; background: #0b3e4a"></div>
    <p data-testid="clock" style="position: absolute; left: 200px; top: 10px; margin: 0;
      width: 60px; height: 20px; font: 14px sans-serif">08:00</p>
    </div><input autofocus><script>
    if (location.search === '?moved') document.querySelector('[data-testid=cabin]').style.top = '72px'
    if (location.search !== '') document.querySelector('[data-testid=clock]').textContent = '23:59'
  </script>`,
  '/second': '<h1>Second</h1>',
  '/opens':
    '<h1>Opens</h1><button onclick="for (let i = 0; i < 12; i++) window.open(`/second?${i}`)">Open</button>',
  '/posts':
    '<form action="/broken" method="post"><input type="hidden" name="crossing" ' +
    'value="24"><button>Ask</button></form>',
  '/cuts':
    `<label>Cut<input oninput="this.value = this.value.slice(0, 2); this.setAttribute('value', ` +
    'this.value)"></label>',
  '/frame': '<h1>Outside</h1><iframe title="Inside" src="/inner"></iframe>',
  '/inner':
    '<form action="/sent" target="_top"><label><span>Card</span><input ' +
    'name="card"></label><button>Pay</button></form>',
  '/dialog':
    '<button>Under</button><div role="dialog" aria-modal="true" aria-label="Storm notice" ' +
    'style="position:fixed;inset:0;background:#fff"><button>Understood</button></div>',
  '/more':
    '<form action="/sent"><label>File<input type="file" name="file"></label><label>Pin<input ' +
    'name="pin"></label><button>Send</button></form><a id="a" href="/card" title="Your ' +
    'card">Boarding card</a><p style="margin-top:2000px" data-testid="foot">Foot</p>',
  '/shadow': `<h1>Shadow</h1><oak-card></oak-card><p data-testid="said">-</p><script>
    customElements.define('oak-field', class extends HTMLElement {
      connectedCallback() {
        this.attachShadow({ mode: 'open' }).innerHTML =
          '<label><span>Berth</span><input placeholder="A1"></label>'
      }
    })
    customElements.define('oak-card', class extends HTMLElement {
      connectedCallback() {
        const root = this.attachShadow({ mode: 'open' })
        root.innerHTML = '<h2>Cabin</h2><oak-field></oak-field><ul><li>deck</li><li>hold</li></ul>' +
          '<p data-testid="inner">two berths</p><button>Take it</button>'
        root.querySelector('button').addEventListener('click', () => {
          const berth = root.querySelector('oak-field').shadowRoot.querySelector('input').value
          document.querySelector('[data-testid=said]').textContent = 'taken ' + berth
        })
      }
    })
  </script>`,
  '/editor': `<h1>Editor</h1><div contenteditable="true" role="textbox" aria-label="Log entry"><p>calm</p></div>
    <p data-testid="said">-</p><script>
    const editor = document.querySelector('[contenteditable]')
    editor.addEventListener('input', () => {
      document.querySelector('[data-testid=said]').textContent = editor.innerText.trim()
    })
  </script>`,
  '/several': `<h1>Several</h1><section aria-label="Morning"><p>Skerrow <button>Book now</button></p></section>
    <section aria-label="Evening"><p>Tolva <button>Book now</button></p></section>
    <p data-testid="cabin">Cabin 12 B, deck 4</p><p>Cabin 14 A, deck 4</p>
    <input aria-label="Berths (0 to 4)" placeholder="how many berths">
    <p data-testid="said">-</p><script>
    for (const button of document.querySelectorAll('button'))
      button.onclick = () => {
        document.querySelector('[data-testid=said]').textContent =
          button.closest('section').getAttribute('aria-label')
      }
  </script>`,
  '/clicks': `<h1>Clicks</h1><button>Press</button><p data-testid="said">-</p><script>
    const button = document.querySelector('button')
    const said = []
    const note = (words) => {
      said.push(words)
      document.querySelector('[data-testid=said]').textContent = said.join(', ')
    }
    button.addEventListener('dblclick', () => note('twice'))
    button.addEventListener('contextmenu', (event) => { event.preventDefault(); note('menu') })
    button.addEventListener('click', ({ shiftKey, detail }) => { if (shiftKey) note('shift') })
    let from = 0
    button.addEventListener('mousedown', () => { from = performance.now() })
    button.addEventListener('mouseup', () => { if (performance.now() - from > 300) note('held') })
  </script>`,
  '/asks-twice': `<button onclick="alert('The 9:40 is full'); confirm('Take the next one?')">Ask</button>`,
  '/windows': `<h1>Windows</h1><a href="/second" target="_blank">Second in a window</a>`,
  '/ports': `<form action="/sent"><label>Ports<select name="ports" multiple><option selected>Skerrow</option>
    <option>Tolva</option><option value="A">Ardmore</option></select></label>
    <label>Lists<input type="file" name="lists" multiple></label><button>Send</button></form>`,
  '/dock': `<h1>Dock</h1><div data-testid="dock" style="height:100px">Passenger lists here</div>
    <p data-testid="got"></p><script>
    const dock = document.querySelector('[data-testid=dock]')
    dock.addEventListener('dragover', (event) => event.dataTransfer.types.includes('Files') && event.preventDefault())
    dock.addEventListener('drop', async (event) => {
      event.preventDefault()
      const files = [...event.dataTransfer.files]
      const read = await Promise.all(files.map(async (file) => file.name + ': ' + (await file.text())))
      document.querySelector('[data-testid=got]').textContent = read.join('; ')
    })
  </script>`,
  '/list': `<h1>List</h1><div role="list" style="height:200px;overflow-y:auto"></div><script>
    const list = document.querySelector('[role=list]')
    const add = () => {
      for (let i = 0; i < 20; i++) {
        const n = list.children.length + 1
        if (n <= 100) list.insertAdjacentHTML('beforeend', '<p style="margin:0;height:30px">Sailing ' + n + '</p>')
      }
    }
    add()
    list.addEventListener('scroll', () => {
      if (list.scrollTop + list.clientHeight > list.scrollHeight - 40) setTimeout(add, 100)
    })
  </script>`,
  '/count': `<h1>Count</h1><p data-testid="said"></p><script>
    sessionStorage.count = Number(sessionStorage.count ?? 0) + 1
    document.querySelector('[data-testid=said]').textContent = 'loaded ' + sessionStorage.count
  </script>`,
  '/order': `<h1>Order</h1><ul style="list-style:none;width:200px">${PORTS}</ul>
    <p data-testid="order"></p><script>
    const list = document.querySelector('ul')
    let held, moves
    list.addEventListener('mousedown', (event) => { held = event.target.closest('li'); moves = 0; event.preventDefault() })
    document.addEventListener('mousemove', ({ clientX, clientY }) => {
      if (!held || ++moves < 4) return
      const over = document.elementFromPoint(clientX, clientY)?.closest('li')
      if (!over || over === held) return
      const isBelow = held.compareDocumentPosition(over) & Node.DOCUMENT_POSITION_FOLLOWING
      list.insertBefore(held, isBelow ? over.nextSibling : over)
    })
    document.addEventListener('mouseup', () => {
      held = undefined
      document.querySelector('[data-testid=order]').textContent = [...list.children].map((one) => one.textContent).join(' ')
    })
  </script>`,
  '/hold': `<h1>Hold</h1><p draggable="true" style="width:200px">Van</p><div data-testid="hold"
    style="width:200px;height:100px;background:#eee"></div><script>
    document.querySelector('p').addEventListener('dragstart', ({ dataTransfer }) => dataTransfer.setData('text/plain', 'van'))
    const hold = document.querySelector('[data-testid=hold]')
    hold.addEventListener('dragover', (event) => event.preventDefault())
    hold.addEventListener('drop', (event) => {
      event.preventDefault()
      hold.textContent = event.dataTransfer.getData('text/plain')
    })
  </script>`,
  '/requests': `<h1>Asks</h1><button>Ask</button><p data-testid="answer"></p><script>
    document.querySelector('button').onclick = () => {
      const said = document.querySelector('[data-testid=answer]')
      said.textContent = 'asked'
      const from = performance.now()
      fetch('/second', { cache: 'no-store' }).then(
        async (answer) => {
          const body = await answer.text()
          const ms = Math.round(performance.now() - from)
          said.textContent = answer.status === 200 ? '200 in ' + ms : answer.status + ' ' + body
        },
        () => { said.textContent = 'failed' })
    }
  </script>`,
  '/copy': '<h1>Copy</h1><label>From<input value="FSF-77"></label><label>To<input></label>',
  '/conditions': `<h1>Conditions</h1>${CONDITIONS}<script>
    const say = (name, text) => { document.querySelector('[data-testid=' + name + ']').textContent = text }
    say('zone', Intl.DateTimeFormat().resolvedOptions().timeZone)
    say('colours', matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light')
    navigator.geolocation?.getCurrentPosition(
      ({ coords }) => say('location', coords.latitude + ' ' + coords.longitude),
      (error) => say('location', error.message))
    navigator.mediaDevices?.getUserMedia({ video: true, audio: true }).then(
      (stream) => {
        const kinds = stream.getTracks().map((one) => one.kind)
        say('camera', ['video', 'audio'].filter((kind) => kinds.includes(kind)).join(', '))
      },
      (error) => say('camera', error.message))
  </script>`,
  '/covered':
    '<style>.low { position: fixed; bottom: 10px } footer { position: fixed; bottom: 0; left: 0; ' +
    'right: 0; height: 120px; z-index: 2; background: #eee }</style><div ' +
    'class="low"><button>Board</button></div><footer class="notice">Notice</footer>',
}

/** On a free port of this machine, until it is closed. */
export async function servePages(): Promise<Server> {
  const server = createServer((request, response) => {
    const url = new URL(request.url!, 'http://x')
    const page = (body: string, status = 200) =>
      response
        .writeHead(status, { 'content-type': 'text/html; charset=utf-8' })
        .end(`<!doctype html><title>t</title>${body}`)
    if (url.pathname === '/sent')
      return page(`<p data-testid="got">${url.search.slice(1).replaceAll('&', ' ')}</p>`)
    if (url.pathname === '/agent') return page(`<p data-testid="agent">${request.headers['user-agent']}</p>`)
    if (url.pathname === '/set')
      return response.writeHead(303, { location: '/show', 'set-cookie': 'seen=yes; Path=/' }).end()
    if (url.pathname === '/sign-in') {
      response.setHeader('set-cookie', 'clerk=isla; Path=/; HttpOnly; SameSite=Lax')
      return page('<h1>Signed in</h1><script>localStorage.ports = 3; sessionStorage.berths = 4</script>')
    }
    if (url.pathname === '/members')
      return page(`<p data-testid="member">${/clerk=(\w+)/.exec(request.headers.cookie ?? '')?.[1] ?? 'nobody'}</p>
        <p data-testid="stored"></p><script>document.querySelector('[data-testid=stored]').textContent =
          'local ' + localStorage.ports + ', session ' + sessionStorage.berths</script>`)
    if (url.pathname === '/show')
      return page(`<p data-testid="cookie">${request.headers.cookie ?? 'none'}</p>`)
    if (url.pathname === '/card')
      return response
        .writeHead(200, {
          'content-type': 'text/plain',
          'content-disposition': 'attachment; filename="boarding-card.txt"',
        })
        .end('FS-1')
    if (url.pathname === '/broken') return page('<p>down</p>', 500)
    if (url.pathname.startsWith('/packages/')) {
      const file = packageFile(url.pathname.slice('/packages/'.length))
      return response.writeHead(file ? 200 : 404, file && { 'content-type': file.type }).end(file?.bytes)
    }
    const body = PAGES[url.pathname] ?? LIBRARY_PAGES[url.pathname]
    page(body ?? 'none', body ? 200 : 404)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return server
}
