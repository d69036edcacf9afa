/** Where apps run that a client exists for. */
export const appPlatforms = ['Android', 'iOS', 'macOS', 'Linux', 'Windows', 'Web'] as const;
export type AppPlatform = (typeof appPlatforms)[number];
