import { newAccount, ROLES, type Account, type NewAccount } from '@cold-thread/contract'
import { zodResolver } from '@hookform/resolvers/zod'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { Controller, useForm } from 'react-hook-form'
import { Navigate } from 'react-router'
import { v7 as uuidv7 } from 'uuid'
import { useAccountsQuery, useAddAccountMutation } from '../../api/api.ts'
import { canLead } from '../../app/rights.ts'
import { Problem } from '../../ui/Problem.tsx'
import { Section } from '../../ui/Section.tsx'

export function AccountsPage({ account }: { account: Account }) {
  const { data: accounts } = useAccountsQuery()
  const [add, { error, isLoading }] = useAddAccountMutation()
  const blank = (): NewAccount => ({ id: uuidv7(), name: '', displayName: '', role: 'technician', password: '' })
  const { register, handleSubmit, control, formState, reset } = useForm<NewAccount>({
    resolver: zodResolver(newAccount),
    defaultValues: blank(),
  })
  if (!canLead(account)) return <Navigate to="/" replace />
  const save = handleSubmit(async (values) => {
    const made = await add(values)
    if (made.data) reset(blank())
  })
  const field = (name: 'name' | 'displayName' | 'password') => ({
    ...register(name),
    error: !!formState.errors[name],
    helperText: formState.errors[name]?.message,
  })
  return (
    <>
      <Typography variant="h1" sx={{ mb: 2 }}>
        Accounts
      </Typography>
      <Section title="Who can sign in">
        {(accounts ?? []).map((one) => (
          <Typography key={one.id} sx={{ py: 0.5 }}>
            <strong>{one.displayName}</strong>, {one.role} <span style={{ opacity: 0.75 }}>signs in as {one.name}</span>
          </Typography>
        ))}
      </Section>
      <Section title="Add an account">
        <form onSubmit={(event) => void save(event)} noValidate>
          <Box sx={{ display: 'grid', gap: 1.5, maxWidth: 480 }}>
            <TextField {...field('name')} label="Sign-in name" autoComplete="off" />
            <TextField {...field('displayName')} label="Full name" autoComplete="off" />
            <Controller
              name="role"
              control={control}
              render={({ field: role }) => (
                <TextField {...role} select label="Role">
                  {ROLES.map((name) => (
                    <MenuItem key={name} value={name}>
                      {name}
                    </MenuItem>
                  ))}
                </TextField>
              )}
            />
            <TextField
              {...field('password')}
              label="First password, at least 10 characters"
              type="password"
              autoComplete="new-password"
            />
            <Problem error={error} />
            <Button type="submit" variant="contained" disabled={isLoading}>
              Add
            </Button>
          </Box>
        </form>
      </Section>
    </>
  )
}
