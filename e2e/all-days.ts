/** All data of the demo: dates that surely hold it. */
export const ALL = 'from=2020-01-01&to=2035-12-31'
