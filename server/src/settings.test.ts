import { describe, expect, it } from 'vitest';
import { readSettings, SettingsError } from './settings.ts';

describe('settings', () => {
  it('have safe defaults', () =>
    expect(readSettings({})).toMatchObject({ host: '127.0.0.1', port: 4310, demo: true, databaseUrl: undefined }));
  it('take an empty variable for an absent one', () => expect(readSettings({ PORT: '' }).port).toBe(4310));
  it.each([
    ['PORT', 'eighty'],
    ['PORT', '70000'],
    ['DATABASE_URL', 'postgres://localhost/x'],
    ['DATABASE_URL', 'mysql://localhost'],
    ['DATABASE_URL', 'nonsense'],
    ['EMBER_DEMO', 'maybe'],
    ['EMBER_DEMO_SESSIONS', 'many'],
    ['EMBER_SESSION_DAYS', '7'],
    ['EMBER_WORKERS', '0'],
    ['EMBER_PUBLIC_URL', 'ftp://x'],
  ])('%s=%s stops the start with one sentence that names it', (name, value) => {
    expect(() => readSettings({ [name]: value })).toThrow(SettingsError);
    expect(() => readSettings({ [name]: value })).toThrow(new RegExp(`^${name}=.* cannot be used: [^\n]+\\.$`));
  });
});
