import {
  beginSecondFactor,
  changePassword,
  createFirstAccount,
  setSecondFactor,
  signOut,
} from '@dust-trail/api'
import type { Me } from '@dust-trail/api'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { toast } from 'sonner'
import { call } from '../../api/call.ts'
import { useMe } from '../../api/use-me.ts'
import { Button } from '../../ui/controls.tsx'
import { Failure, Loading } from '../../ui/states.tsx'
import { TextField } from '../../ui/text-field.tsx'
import { NewPassword } from './enter-page.tsx'

/** One's own account; before there is one, the way to make the first. */
export function YouPage() {
  const me = useMe()
  if (me.error) return <Failure error={me.error} retry={() => void me.refetch()} />
  if (!me.data) return <Loading />
  return (
    <div className="max-w-2xl space-y-6 px-5 py-3">
      <h1>{me.data.account?.name ?? 'You'}</h1>
      {me.data.anybody ? <FirstAccount /> : me.data.account && <Own account={me.data.account} />}
    </div>
  )
}

function FirstAccount() {
  const client = useQueryClient()
  const [email, setEmail] = useState('')
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const make = useMutation({
    mutationFn: () => call(createFirstAccount, {}, { email, name, password }),
    onSuccess: () => {
      void client.invalidateQueries()
      toast('From now on everybody signs in.')
    },
  })
  return (
    <form
      aria-label="First account"
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        make.mutate()
      }}
    >
      <p>
        There is no account yet: anybody on this computer may look at everything and change everything. The
        first account ends that. It owns every site, and invites others in Setup.
      </p>
      <TextField label="E-mail" type="email" autoComplete="username" required value={email} set={setEmail} />
      <TextField label="Your name" autoComplete="name" required maxLength={120} value={name} set={setName} />
      <NewPassword value={password} set={setPassword} />
      {make.error && <Failure error={make.error} />}
      <Button type="submit" look="primary" disabled={make.isPending}>
        Make the first account
      </Button>
    </form>
  )
}

function Own({ account }: { account: NonNullable<Me['account']> }) {
  const client = useQueryClient()
  const [old, setOld] = useState('')
  const [password, setPassword] = useState('')
  const change = useMutation({
    mutationFn: () => call(changePassword, {}, { old, password }),
    onSuccess: () => {
      setOld('')
      setPassword('')
      toast('Password changed. Everywhere else you are signed out.')
    },
  })
  const out = useMutation({
    mutationFn: (everywhere: boolean) => call(signOut, {}, { everywhere }),
    onSuccess: () => void client.resetQueries(),
  })
  return (
    <>
      <p>
        Signed in as {account.email}.{' '}
        <span className="inline-flex gap-2">
          <Button onClick={() => out.mutate(false)}>Sign out</Button>
          <Button onClick={() => out.mutate(true)}>Sign out everywhere</Button>
        </span>
      </p>
      <form
        aria-label="Password"
        className="space-y-3"
        onSubmit={(event) => {
          event.preventDefault()
          change.mutate()
        }}
      >
        <h2>Password</h2>
        <OldPassword value={old} set={setOld} />
        <NewPassword value={password} set={setPassword} />
        {change.error && <Failure error={change.error} />}
        <Button type="submit" disabled={change.isPending}>
          Change the password
        </Button>
      </form>
      <SecondFactor isOn={account.secondFactor} />
    </>
  )
}

function SecondFactor({ isOn }: { isOn: boolean }) {
  const client = useQueryClient()
  const [password, setPassword] = useState('')
  const [code, setCode] = useState('')
  const begin = useMutation({
    mutationFn: () => call(beginSecondFactor, {}, { password }),
    onSuccess: () => setPassword(''),
  })
  const set = useMutation({
    mutationFn: (on: boolean) => call(setSecondFactor, {}, { on, code }),
    onSuccess: (_, on) => {
      setCode('')
      begin.reset()
      void client.invalidateQueries()
      toast(on ? 'The second factor is on.' : 'The second factor is off.')
    },
  })
  return (
    <form
      aria-label="Second factor"
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        if (isOn) set.mutate(false)
        else if (begin.data) set.mutate(true)
        else begin.mutate()
      }}
    >
      <h2>Second factor</h2>
      <p>
        {isOn
          ? 'On: signing in takes a code besides the password.'
          : 'Off. An application on your phone shows a code that is asked for besides the password.'}
      </p>
      {!isOn && !begin.data && <OldPassword value={password} set={setPassword} />}
      {begin.data && (
        <p>
          Put this key into the application:{' '}
          <code className="font-mono">{begin.data.secret.match(/.{1,4}/g)?.join(' ')}</code>, or open{' '}
          <a className="text-spruce underline" href={begin.data.uri}>
            this address
          </a>{' '}
          on the phone.
        </p>
      )}
      {(isOn || begin.data) && (
        <TextField
          label="Code"
          hint="Six digits, as it shows now."
          inputMode="numeric"
          autoComplete="one-time-code"
          maxLength={6}
          required
          value={code}
          set={setCode}
        />
      )}
      {(begin.error ?? set.error) && <Failure error={(begin.error ?? set.error)!} />}
      <Button type="submit" disabled={begin.isPending || set.isPending}>
        {isOn ? 'Switch it off' : begin.data ? 'Switch it on' : 'Begin'}
      </Button>
    </form>
  )
}

function OldPassword({ value, set }: { value: string; set: (password: string) => void }) {
  return (
    <TextField
      label="Present password"
      type="password"
      autoComplete="current-password"
      required
      value={value}
      set={set}
    />
  )
}
