'use client'
import { useState } from 'react'
import { useForm } from 'react-hook-form'
import { Button } from '../base/Button'
import { Problem } from '../base/Parts'

type Form = { username: string; password: string }
const field = 'h-9 w-full rounded-oak border border-line bg-raised px-3 text-base'

/** The server writes "Monday morning" by the reader's clock. */
const noteTimeZone = () => { document.cookie = `oak-offset=${new Date().getTimezoneOffset()}; path=/; samesite=lax` }
const enter = (to: string) => { window.location.href = to }

export function SignIn({ to }: { to: string }) {
  const [problem, setProblem] = useState<string>()
  const { register, handleSubmit, formState: { errors, isSubmitting } } = useForm<Form>()
  const submit = handleSubmit(async (form) => {
    setProblem(undefined)
    noteTimeZone()
    const response = await fetch('/api/auth/sign-in/username', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(form) }).catch(() => undefined)
    if (response?.ok) return enter(to)
    setProblem(!response ? 'The server does not answer.' : response.status === 429 ? 'Too many tries. Wait a minute, then try again.' : 'The name or the password is not right.')
  })
  return (
    <main className="grid min-h-dvh place-items-center p-6">
      <form onSubmit={(event) => void submit(event)} className="flex w-full max-w-[340px] flex-col gap-4" noValidate>
        <div>
          <h1 className="text-[30px] leading-9">Oak Rotation</h1>
          <p className="mt-1 text-soft">Plan the run, watch it, read what failed.</p>
        </div>
        <label><span className="label">Name</span><input className={field} autoComplete="username" autoFocus autoCapitalize="off" {...register('username', { required: 'Write your name' })} aria-invalid={!!errors.username} /></label>
        <label><span className="label">Password</span><input className={field} type="password" autoComplete="current-password" {...register('password', { required: 'Write your password' })} aria-invalid={!!errors.password} /></label>
        {(errors.username ?? errors.password) && <p role="alert" className="text-sm text-failed">{errors.username?.message ?? errors.password?.message}</p>}
        {problem && <Problem>{problem}</Problem>}
        <Button look="main" type="submit" disabled={isSubmitting} className="h-9 justify-center">Sign in</Button>
      </form>
    </main>
  )
}
