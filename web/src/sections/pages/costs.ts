import type { CampaignCost } from '@dust-trail/api'
import { campaignCostSchema } from '@dust-trail/api'

/**
 * What campaigns cost from a CSV with the columns day, campaign and cost, in any order.
 *
 * @throws Error that names the line and what is wrong with it
 */
export async function readCosts(text: string): Promise<CampaignCost[]> {
  const { parse } = await import('csv-parse/browser/esm/sync')
  const [head, ...rows]: string[][] = parse(text, { bom: true, relax_column_count: true })
  const names = (head ?? []).map((name) => name.trim().toLowerCase())
  const at = Object.fromEntries(['day', 'campaign', 'cost'].map((name) => [name, names.indexOf(name)]))
  const missing = Object.keys(at).filter((name) => at[name]! < 0)
  if (missing.length)
    throw new Error(
      `The first line has no column ${missing.join(', ')}. Name the columns day, campaign, cost.`,
    )
  return rows
    .filter((row) => row.some((cell) => cell.trim() !== ''))
    .map((row, k) => {
      const read = campaignCostSchema.safeParse({
        day: row[at['day']!]?.trim(),
        campaign: row[at['campaign']!],
        cost: row[at['cost']!]?.trim() || undefined,
      })
      if (read.success) return read.data
      const [issue] = read.error.issues
      throw new Error(`Line ${k + 2}: ${issue!.path.join('.')} ${issue!.message}. Nothing was taken.`)
    })
}
