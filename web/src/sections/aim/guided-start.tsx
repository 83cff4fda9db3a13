import { Check } from 'lucide-react'
import { useState } from 'react'
import { Link } from 'react-router'
import { z } from 'zod'
import { useFixes, useFunnels } from '../../api/queries.ts'
import { goalName, useLens, useLensLink, useSite } from '../../app/lens.ts'
import { LinkButton } from '../../ui/link-button.tsx'
import { readStored, writeStored } from '../../ui/stored.ts'

const skippedSchema = z.boolean()

/** From the first data to the first fix in five steps; gone once they are done, or skipped. */
export function GuidedStart() {
  const site = useSite()
  const key = `guided start ${site.key}`
  const [skipped, setSkipped] = useState(() => readStored(key, skippedSchema, false))
  if (skipped) return null
  return (
    <Steps
      skip={() => {
        writeStored(key, true)
        setSkipped(true)
      }}
    />
  )
}

function Steps({ skip }: { skip: () => void }) {
  const site = useSite()
  const { lens } = useLens()
  const linkTo = useLensLink()
  const funnels = useFunnels(site.key).data
  const fixes = useFixes(site.key, lens).data
  if (!funnels || !fixes) return null
  const steps = [
    ['Let data arrive', 'Put the script on your pages, or import a file.', '/setup', site.sessions > 0],
    ['Name the goal', 'A page, an action: what counts as success.', '/setup', goalName(site) !== ''],
    ['Name your pages', 'Rules make pages one page: /items/:item.', '/labels', site.pageGroups.length > 0],
    [
      'Keep a way to the goal',
      'A funnel, from where they begin to the goal.',
      '/funnels',
      funnels.length > 0,
    ],
    ['Take up a first fix', 'From what costs most, at one press.', '/fixes', fixes.length > 0],
  ] as const
  const next = steps.findIndex(([, , , isDone]) => !isDone)
  if (next < 0) return null
  return (
    <section aria-label="Guided start" className="rounded-md border border-ochre bg-ochre-soft px-3 py-2">
      <div className="flex items-center gap-3">
        <h2 className="flex-1">
          From the first data to the first fix: step {next + 1} of {steps.length}
        </h2>
        <LinkButton onClick={skip}>Skip</LinkButton>
      </div>
      <ol className="mt-1 grid grid-cols-5 gap-3">
        {steps.map(([name, words, path, isDone], k) => (
          <li key={name} className={isDone ? 'text-ink-soft' : ''}>
            <p className="flex items-center gap-1">
              {isDone ? (
                <>
                  <Check size={14} aria-label="done" /> {name}
                </>
              ) : (
                <Link
                  className={
                    k === next ? 'font-semibold text-spruce underline' : 'text-spruce hover:underline'
                  }
                  to={linkTo(path)}
                >
                  {k + 1}. {name}
                </Link>
              )}
            </p>
            {!isDone && <p>{words}</p>}
          </li>
        ))}
      </ol>
    </section>
  )
}
