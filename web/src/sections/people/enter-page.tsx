import { askReset, LEAST_PASSWORD, signIn, takeMailLink } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useState } from 'react'
import type { ReactNode } from 'react'
import { useNavigate, useSearchParams } from 'react-router'
import { call } from '../../api/call.ts'
import { useMe } from '../../api/use-me.ts'
import { Button } from '../../ui/controls.tsx'
import { FrontDoor } from '../../ui/front-door.tsx'
import { LinkButton } from '../../ui/link-button.tsx'
import { Failure } from '../../ui/states.tsx'
import { TextField } from '../../ui/text-field.tsx'

/** The way in: with a password, by an invitation, or to a new password. */
export function EnterPage() {
  const [parameters] = useSearchParams()
  const link = parameters.get('link')
  const me = useMe()
  return (
    <FrontDoor>
      {link ? <ByLink link={link} /> : <ByPassword isIn={!me.isFetching && !!me.data?.account} />}
      {me.data?.anybody && (
        <p className="text-ink-soft">There is no account yet: anybody on this computer may come in.</p>
      )}
    </FrontDoor>
  )
}

/** Goes on to where one wanted to be. */
function useGoOn(): () => void {
  const client = useQueryClient()
  const navigate = useNavigate()
  const [parameters] = useSearchParams()
  const to = parameters.get('to') ?? '/'
  return useCallback(() => {
    // What nobody was allowed to see is asked anew, not shown as refused.
    void client.resetQueries()
    // Nowhere but within the application.
    void navigate(/^\/(?!\/)/.test(to) ? to : '/', { replace: true })
  }, [client, navigate, to])
}

/** @param isIn  signed in already: in another tab, or while an answer of before was on its way */
function ByPassword({ isIn }: { isIn: boolean }) {
  const goOn = useGoOn()
  useEffect(() => {
    if (isIn) goOn()
  }, [isIn, goOn])
  const [email, setEmail] = useState('')
  const [password, setPassword] = useState('')
  const [code, setCode] = useState('')
  const enter = useMutation({
    mutationFn: () => call(signIn, {}, { email, password, ...(code && { code }) }),
    onSuccess: goOn,
  })
  const reset = useMutation({ mutationFn: () => call(askReset, {}, { email }) })
  const needsCode = code !== '' || /code/i.test(enter.error?.message ?? '')
  return (
    <Form
      title="Sign in"
      submit={() => enter.mutate()}
      submitText="Sign in"
      busy={enter.isPending}
      error={enter.error}
    >
      <TextField label="E-mail" type="email" autoComplete="username" required value={email} set={setEmail} />
      <TextField
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        value={password}
        set={setPassword}
      />
      {needsCode && (
        <TextField
          label="Code"
          hint="Six digits, from your application."
          inputMode="numeric"
          autoComplete="one-time-code"
          maxLength={6}
          value={code}
          set={setCode}
        />
      )}
      <p className="text-ink-soft">
        {reset.data ? (
          <span role="status">If there is such an account a link is on its way.</span>
        ) : (
          <LinkButton onClick={() => email && reset.mutate()}>Send me a link to a new password</LinkButton>
        )}
      </p>
    </Form>
  )
}

function ByLink({ link }: { link: string }) {
  const goOn = useGoOn()
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const take = useMutation({
    mutationFn: () => call(takeMailLink, {}, { link, password, ...(name.trim() && { name }) }),
    onSuccess: goOn,
  })
  return (
    <Form
      title="Choose a password"
      submit={() => take.mutate()}
      submitText="Come in"
      busy={take.isPending}
      error={take.error}
    >
      <TextField
        label="Your name"
        hint="Left out where you have an account already."
        autoComplete="name"
        maxLength={120}
        value={name}
        set={setName}
      />
      <NewPassword value={password} set={setPassword} />
    </Form>
  )
}

export function NewPassword({ value, set }: { value: string; set: (password: string) => void }) {
  return (
    <TextField
      label="New password"
      hint={`At least ${LEAST_PASSWORD} characters; a few words are good.`}
      type="password"
      autoComplete="new-password"
      minLength={LEAST_PASSWORD}
      maxLength={128}
      required
      value={value}
      set={set}
    />
  )
}

function Form({
  title,
  submit,
  submitText,
  busy,
  error,
  children,
}: {
  title: string
  submit: () => void
  submitText: string
  busy: boolean
  error: Error | null
  children: ReactNode
}) {
  return (
    <form
      aria-label={title}
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        submit()
      }}
    >
      <h1>{title}</h1>
      {children}
      {error && <Failure error={error} />}
      <Button type="submit" look="primary" disabled={busy}>
        {submitText}
      </Button>
    </form>
  )
}
