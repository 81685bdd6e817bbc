/** A field that took a secret, in a parsed page. */
export const HIDDEN = 'data-oak-hidden'
/** The page's text with what fields hide replaced, for a picture of it. */
export const hideSecrets = (html: string) =>
  html.replace(/<input[^>]*>/g, (field) =>
    /type="password"|data-oak-hidden/.test(field) ? field.replace(/(value=")[^"]*(")/, '$1••••••$2') : field,
  )
