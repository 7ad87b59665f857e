/** Prints one section of the page alone, by its title. */
export function printSection(title: string): void {
  const section = document.querySelector(`section[aria-label=${JSON.stringify(title)}]`)
  document.body.classList.add('print-one')
  section?.classList.add('printed')
  const restore = () => {
    document.body.classList.remove('print-one')
    section?.classList.remove('printed')
  }
  addEventListener('afterprint', restore, { once: true })
  window.print()
}
