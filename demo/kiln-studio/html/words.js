export const wordOf = (open) => (open ? 'open' : 'shut')
