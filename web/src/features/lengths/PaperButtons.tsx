import type { Paper, TemplateStrip } from '@cold-thread/core/open'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import { useState } from 'react'
import { Problem } from '../../ui/Problem.tsx'

/** The template as PDF, for either paper. */
export function PaperButtons({ strip, disabled = false }: { strip: TemplateStrip; disabled?: boolean }) {
  const [problem, setProblem] = useState<unknown>(null)
  const save = async (paper: Paper) => {
    setProblem(null)
    try {
      const { templatePdf } = await import('./templatePdf.ts')
      const bytes = await templatePdf(strip, paper)
      const url = URL.createObjectURL(new Blob([bytes as BlobPart], { type: 'application/pdf' }))
      const anchor = Object.assign(document.createElement('a'), {
        href: url,
        download: `template-${strip.name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}-${paper.toLowerCase()}.pdf`,
      })
      anchor.click()
      setTimeout(() => URL.revokeObjectURL(url), 10_000)
    } catch (error) {
      setProblem(error)
    }
  }
  return (
    <Box className="not-on-paper" sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
      {(['A4', 'Letter'] as const).map((paper) => (
        <Button
          key={paper}
          variant="outlined"
          disabled={disabled}
          onClick={() => void save(paper)}
          aria-label={`1:1 template of ${strip.name}, ${paper}`}
        >
          1:1 PDF, {paper}
        </Button>
      ))}
      <Problem error={problem} />
    </Box>
  )
}
