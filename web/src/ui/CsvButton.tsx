import Button from '@mui/material/Button'

/** A button that asks for a table file; the same file can be chosen again. */
export function CsvButton({
  words,
  label,
  variant = 'text',
  onFile,
}: {
  /** On the button. */
  words: string
  /** Of the field, for those who do not see it. */
  label: string
  variant?: 'text' | 'outlined'
  onFile(file: File): void
}) {
  return (
    <Button component="label" variant={variant} sx={{ minHeight: 44 }}>
      {words}
      <input
        type="file"
        accept=".csv,.txt,text/csv,text/plain"
        aria-label={label}
        hidden
        onChange={({ target }) => {
          const [file] = target.files ?? []
          if (file) onFile(file)
          target.value = ''
        }}
      />
    </Button>
  )
}
