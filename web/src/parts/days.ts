/** Milliseconds in a day; for stepping dates that are kept as UTC midnights. */
export const DAY_MS = 86_400_000
