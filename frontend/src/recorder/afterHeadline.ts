/** What a verdict says after its headline. */
export const afterHeadline = ({ headline, verdict }: { headline: string; verdict: string }) => verdict.slice(headline.length).replace(/^\.\s*/, '')
