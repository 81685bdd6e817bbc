import type { HTTPRequest, HTTPResponse } from 'puppeteer-core'
import { exchangeText, readableBody, type Side } from '../driver/exchange'

/** A form with files, and what the page went away from too soon. */
const UNKNOWN = '(a body that Firefox does not give)'

/** What was sent and what came back, of a request that failed. @param response absent: there was no answer */
export async function exchangeOf(request: HTTPRequest, response?: HTTPResponse): Promise<string> {
  const sent: Side = {
    line: `${request.method()} ${request.url()}`,
    headers: request.headers(),
    body: request.hasPostData() ? ((await request.fetchPostData().catch(() => UNKNOWN)) ?? '') : '',
  }
  if (!response)
    return exchangeText(sent, { line: request.failure()?.errorText ?? 'no answer', headers: {}, body: '' })
  const headers = response.headers()
  const body = await response.buffer().then(
    (bytes) => readableBody(headers['content-type'], bytes),
    () => UNKNOWN,
  )
  return exchangeText(sent, { line: `${response.status()} ${response.statusText()}`.trim(), headers, body })
}
