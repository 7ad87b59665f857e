import { mergeKit, type Kit } from '@cold-thread/core/kit'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useMemo, useState } from 'react'
import { Clashes } from '../../ui/Clashes.tsx'
import { Section } from '../../ui/Section.tsx'

/** Somebody saved the kit meanwhile: what both changed is shown side by side and asked, all else of both stands. */
export function KitConflict({
  base,
  mine,
  theirs,
  onSettled,
}: {
  /** What both began from. */
  base: Kit
  mine: Kit
  theirs: Kit
  onSettled(kit: Kit): void
}) {
  const { clashes, settle } = useMemo(() => mergeKit({ base, mine, theirs }), [base, mine, theirs])
  const [choices, setChoices] = useState<ReadonlyMap<string, 'mine' | 'theirs'>>(new Map())
  const open = clashes.filter(({ path }) => !choices.has(path)).length
  return (
    <Section
      title="Somebody saved the kit meanwhile"
      action={
        <Button variant="contained" disabled={open > 0} onClick={() => onSettled(settle(choices))}>
          Go on with both
        </Button>
      }
    >
      <Typography sx={{ mb: 1 }}>
        {clashes.length === 0
          ? 'You changed other things than they did: both stand.'
          : `What both of you changed: which stands? ${open > 0 ? `${open} to choose.` : ''} All else of both stands.`}
      </Typography>
      <Clashes
        clashes={clashes}
        by="as saved now"
        choices={choices}
        onChoose={(path, side) => setChoices((before) => new Map(before).set(path, side))}
      />
    </Section>
  )
}
