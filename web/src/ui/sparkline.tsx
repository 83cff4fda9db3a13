const [WIDTH, HEIGHT] = [80, 18]

/** A trend in the room of a table cell: a bar for each part, a gap where nothing is known. */
export function Sparkline({
  values,
  titles,
  tone = 'clay',
  wide = false,
}: {
  values: readonly (number | null)[]
  titles: readonly string[]
  /** clay for what is lost or goes wrong */
  tone?: 'clay' | 'spruce'
  /** as wide as there is room, and higher */
  wide?: boolean
}) {
  const most = Math.max(...values.map((value) => value ?? 0), Number.MIN_VALUE)
  const step = WIDTH / Math.max(1, values.length)
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={titles.join('; ')}
      className={wide ? 'h-14 w-full' : 'h-[18px] w-20 align-middle'}
    >
      {values.map((value, k) => {
        const height = value === null ? 0 : Math.max(1, (value / most) * HEIGHT)
        return (
          <rect
            key={k}
            x={k * step}
            y={HEIGHT - height}
            width={Math.max(1, step - 1)}
            height={height}
            fill={value ? `var(--${tone})` : 'var(--line)'}
          >
            <title>{titles[k]}</title>
          </rect>
        )
      })}
    </svg>
  )
}
