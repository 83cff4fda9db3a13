// Before the first paint, so that nothing flashes in the wrong colours.
document.documentElement.dataset.theme =
  localStorage.getItem('theme') ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light')
