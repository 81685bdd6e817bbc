import { inHtml } from '../driver/in-html'

/** A field that took a secret, in a parsed page. */
export const HIDDEN = 'data-oak-hidden'
const DOTS = '••••••'

/** The page's text with what fields hide replaced, and these texts, for a picture of it. */
export const hideSecrets = (html: string, texts: readonly string[]): string =>
  texts.reduce(
    (left, text) => left.replaceAll(inHtml(text), DOTS),
    html.replace(/<input[^>]*>/g, (field) =>
      /type="password"|data-oak-hidden/.test(field)
        ? field.replace(/(value=")[^"]*(")/, `$1${DOTS}$2`)
        : field,
    ),
  )
