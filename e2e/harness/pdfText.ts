import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'

/** Words of a PDF in their order, spaces made one, words broken behind a hyphen joined. */
export async function pdfText(bytes: Buffer): Promise<string> {
  const pdf = await getDocument({ data: new Uint8Array(bytes), verbosity: 0 }).promise
  const words: string[] = []
  for (let i = 1; i <= pdf.numPages; i++) {
    const { items } = await (await pdf.getPage(i)).getTextContent()
    words.push(...items.map((item) => ('str' in item ? item.str : '')))
  }
  return words
    .join(' ')
    .replaceAll(/\s+/g, ' ')
    .replaceAll(/(\w)- /g, '$1-')
}
