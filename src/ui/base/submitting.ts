/** For `onSubmit` of a form that the page itself sends: the browser stays where it is. */
export const submitting = (send: () => unknown) => (event: React.FormEvent) => {
  event.preventDefault()
  void send()
}
