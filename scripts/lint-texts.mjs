// Lints texts as if they stood in files: reads [{ path, text }] from standard input, prints the rules each breaks.
import { ESLint } from 'eslint'
import { readFileSync } from 'node:fs'

const eslint = new ESLint()
const results = []
for (const { path, text } of JSON.parse(readFileSync(0, 'utf8'))) {
  const [result] = await eslint.lintText(text, { filePath: path })
  results.push(result.messages.map((m) => `${m.ruleId}: ${m.message}`))
}
console.log(JSON.stringify(results))
