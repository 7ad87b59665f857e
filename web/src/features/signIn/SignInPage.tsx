import { credentials, type Credentials } from '@cold-thread/contract'
import { zodResolver } from '@hookform/resolvers/zod'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useForm } from 'react-hook-form'
import { useSignInMutation } from '../../api/api.ts'
import { Problem } from '../../ui/Problem.tsx'
import { EntryCard } from './EntryCard.tsx'

export function SignInPage() {
  const [signIn, { error, isLoading }] = useSignInMutation()
  const { register, handleSubmit, formState } = useForm<Credentials>({
    resolver: zodResolver(credentials),
    defaultValues: { name: '', password: '' },
  })
  return (
    <EntryCard title="From the alarm to the signed proof">
      <form onSubmit={(event) => void handleSubmit((values) => signIn(values))(event)} noValidate>
        <TextField
          {...register('name')}
          label="Name"
          fullWidth
          margin="normal"
          autoComplete="username"
          autoFocus
          error={!!formState.errors.name}
          helperText={formState.errors.name && 'Your sign-in name'}
        />
        <TextField
          {...register('password')}
          label="Password"
          type="password"
          fullWidth
          margin="normal"
          autoComplete="current-password"
          error={!!formState.errors.password}
          helperText={formState.errors.password && 'Your password'}
        />
        <Problem error={error} />
        <Button type="submit" variant="contained" fullWidth size="large" disabled={isLoading} sx={{ mt: 1 }}>
          Sign in
        </Button>
      </form>
    </EntryCard>
  )
}
