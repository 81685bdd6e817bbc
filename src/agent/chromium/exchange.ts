/** What was sent and what came back, of a request that failed: headers and bodies, for whoever looks for
 * why. */
import type { Request, Response } from 'playwright-core'
import { exchangeText, readableBody, type Side } from '../driver/exchange'

/** @param response absent: there was no answer */
export async function exchangeOf(request: Request, response?: Response): Promise<string> {
  const sent: Side = {
    line: `${request.method()} ${request.url()}`,
    headers: await request.allHeaders(),
    body: request.postData() ?? '',
  }
  if (!response)
    return exchangeText(sent, { line: request.failure()?.errorText ?? 'no answer', headers: {}, body: '' })
  const headers = await response.allHeaders()
  const body = readableBody(headers['content-type'], await response.body())
  return exchangeText(sent, { line: `${response.status()} ${response.statusText()}`.trim(), headers, body })
}
