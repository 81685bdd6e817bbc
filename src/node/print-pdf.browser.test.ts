import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { printPdf } from './print-pdf'

test('a page is printed; no script of it runs, and it asks nobody for anything', async () => {
  let asked = 0
  const server = createServer((_, response) => {
    asked++
    response.end()
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  const site = `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  const pdf = await printPdf(
    `<h1>Night Full</h1><img src="${site}/a.png"><script>fetch('${site}/b'); document.body.innerHTML ` +
      `= ''</script>${'<p>A crossing.</p>'.repeat(200)}`,
  )
  expect(pdf.subarray(0, 5).toString()).toBe('%PDF-')
  // what the script would have taken away is there: several pages
  expect(pdf.toString('latin1').match(/\/Type ?\/Page\b/g)!.length).toBeGreaterThan(2)
  expect(asked).toBe(0)
  server.close()
}, 60_000)
