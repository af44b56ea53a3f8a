// npm run demo: the made-up scenario in a data folder of its own.
process.env.ZEPTIK_DEMO = '1'
await import('./start.mjs')
