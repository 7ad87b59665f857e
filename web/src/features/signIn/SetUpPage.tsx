import { firstAccount, type FirstAccount } from '@cold-thread/contract'
import { zodResolver } from '@hookform/resolvers/zod'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useForm } from 'react-hook-form'
import { v7 as uuidv7 } from 'uuid'
import { useSetUpMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { EntryCard } from './EntryCard.tsx'

/** The first visit: whoever comes first becomes the first lead. */
export function SetUpPage() {
  const [setUp, { error, isLoading }] = useSetUpMutation()
  const { register, handleSubmit, formState } = useForm<FirstAccount>({
    resolver: zodResolver(firstAccount),
    defaultValues: { id: uuidv7(), name: '', displayName: '', password: '' },
  })
  const field = (name: 'name' | 'displayName' | 'password') => ({
    ...register(name),
    fullWidth: true,
    margin: 'normal' as const,
    error: !!formState.errors[name],
    helperText: formState.errors[name]?.message,
  })
  return (
    <EntryCard title="First visit: make the first lead’s account">
      <form onSubmit={(event) => void handleSubmit((values) => setUp(values))(event)} noValidate>
        <TextField {...field('name')} label="Sign-in name" autoComplete="username" autoFocus />
        <TextField {...field('displayName')} label="Full name, as reports show it" autoComplete="name" />
        <TextField
          {...field('password')}
          label="Password, at least 10 characters"
          type="password"
          autoComplete="new-password"
        />
        <Problem error={error} />
        <Button type="submit" variant="contained" fullWidth size="large" disabled={isLoading} sx={{ mt: 1 }}>
          Make the account
        </Button>
      </form>
    </EntryCard>
  )
}
