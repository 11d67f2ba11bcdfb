// What a file is, by its name.

const ENDINGS = { rows: ['csv', 'txt', 'tsv'], records: ['json', 'zip'] } as const

export function kindOf(name: string): keyof typeof ENDINGS | null {
  const ending = /\.([^.]+)$/.exec(name.toLowerCase())?.[1] ?? ''
  for (const [kind, endings] of Object.entries(ENDINGS)) {
    if ((endings as readonly string[]).includes(ending)) return kind as keyof typeof ENDINGS
  }
  return null
}
