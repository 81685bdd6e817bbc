/** Pages every driver has to be able to work on. */
import { createServer, type Server } from 'node:http'

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
  '/second': '<h1>Second</h1>',
  '/cuts': `<label>Cut<input oninput="this.value = this.value.slice(0, 2); this.setAttribute('value', this.value)"></label>`,
  '/frame': '<h1>Outside</h1><iframe title="Inside" src="/inner"></iframe>',
  '/inner':
    '<form action="/sent" target="_top"><label><span>Card</span><input name="card"></label><button>Pay</button></form>',
  '/dialog':
    '<button>Under</button><div role="dialog" aria-modal="true" aria-label="Storm notice" style="position:fixed;inset:0;background:#fff"><button>Understood</button></div>',
  '/more':
    '<form action="/sent"><label>File<input type="file" name="file"></label><label>Pin<input name="pin"></label><button>Send</button></form><a id="a" href="/card" title="Your card">Boarding card</a><p style="margin-top:2000px" data-testid="foot">Foot</p>',
  '/covered':
    '<style>.low { position: fixed; bottom: 10px } footer { position: fixed; bottom: 0; left: 0; right: 0; height: 120px; z-index: 2; background: #eee }</style><div class="low"><button>Board</button></div><footer class="notice">Notice</footer>',
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
    page(PAGES[url.pathname] ?? 'none', PAGES[url.pathname] ? 200 : 404)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return server
}
