/** What the site's pages run themselves. */
export const SITE_SCRIPT = `
(() => {
  const picker = document.querySelector('.month-picker')
  if (!picker) return
  const names = ['All months', 'December', 'January', 'February']
  let shown = 0
  const show = (index) => {
    shown = Math.max(0, Math.min(names.length - 1, index))
    picker.querySelector('.month-name').textContent = names[shown]
    for (const night of document.querySelectorAll('.night'))
      night.hidden = shown > 0 && night.dataset.month !== String(shown)
  }
  picker.querySelector('.back').addEventListener('click', () => { if (shown > 0) show(shown - 1) })
  picker.querySelector('.on').addEventListener('click', () => { if (shown < names.length - 1) show(shown + 1) })
})()
`
