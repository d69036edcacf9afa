import { describe, expect, it } from 'vitest';
import { type AlertNews, composeMessage, type ToldCase } from './compose-message.ts';

const footer = { text: 'You get this since you see Larkfield Guide.', link: 'https://ember.example/apps/guide/alerts' };
const caseOf = (over: Partial<ToldCase> = {}): ToldCase => ({
  ref: 'LG-142',
  what: 'IllegalStateException',
  where: 'NightMap.tileFor',
  state: 'open',
  reports: 4,
  people: 3,
  firstVersion: '4.3.0',
  lastVersion: '4.3.0',
  assignee: null,
  frames: ['NightMap.tileFor (NightMap.kt:88)', 'MapScreen.draw (MapScreen.kt:31)'],
  inCommon: 'Nearly only with flag night-map on (100 % here, 12 % of others).',
  likelyChange: 'Trust the cache (8f19c758c by Tom), changed NightMap.tileFor',
  ...over,
});
const news = (over: Partial<AlertNews> = {}): AlertNews => ({
  kind: 'case-begins',
  at: '2026-11-02T10:00:00.000Z',
  app: 'Larkfield Guide',
  version: '4.3.0',
  case: caseOf(),
  told: null,
  link: 'https://ember.example/apps/guide/cases/LG-142',
  acts: [{ label: 'Mute for a day', link: 'https://ember.example/apps/guide/cases/LG-142/act?do=mute-a-day' }],
  ...over,
});

describe('a message', () => {
  it('says in its first line what, where, for how many people and in which version', () => {
    const { subject, text, thread } = composeMessage([news()], footer);
    expect(subject).toBe('[Larkfield Guide] New: LG-142 IllegalStateException in NightMap.tileFor, 3 people, 4.3.0');
    expect(text.split('\n')).toEqual([
      'New: LG-142 IllegalStateException in NightMap.tileFor, 3 people, 4.3.0',
      '    NightMap.tileFor (NightMap.kt:88)',
      '    MapScreen.draw (MapScreen.kt:31)',
      '    4 reports so far. Nobody looks after it.',
      '    Nearly only with flag night-map on (100 % here, 12 % of others).',
      '    Likely change: Trust the cache (8f19c758c by Tom), changed NightMap.tileFor.',
      '    https://ember.example/apps/guide/cases/LG-142',
      '    Mute for a day: https://ember.example/apps/guide/cases/LG-142/act?do=mute-a-day',
      '',
      '-- ',
      footer.text,
      footer.link,
    ]);
    expect(thread).toBe('LG-142');
  });

  it('says of what came back since when it is known, and who looks after it', () => {
    const { subject, text } = composeMessage(
      [news({ kind: 'case-returns', case: caseOf({ firstVersion: '4.1.0', assignee: 'tom@larkfield.example', people: 1 }) })],
      footer,
    );
    expect(subject).toBe(
      '[Larkfield Guide] Came back: LG-142 IllegalStateException in NightMap.tileFor, 1 person, 4.3.0, known since 4.1.0',
    );
    expect(text).toContain('tom@larkfield.example looks after it.');
  });

  it('is one for 500 new cases, and says so', () => {
    const many = Array.from({ length: 500 }, (_, at) => news({ case: caseOf({ ref: `LG-${at}` }) }));
    const { subject, text, html, thread } = composeMessage(many, footer);
    expect(subject).toBe('[Larkfield Guide] 500 new cases');
    expect(text).toContain('And 490 more.');
    expect(text.match(/New: LG-/g)).toHaveLength(10);
    expect(html.match(/New: LG-/g)).toHaveLength(10);
    expect(thread).toBe('');
  });

  it('tells once what two rules tell, and a case that was reported again and again', () => {
    expect(composeMessage([news(), news()], footer).thread).toBe('LG-142');
    const reported = Array.from({ length: 7 }, () => news({ kind: 'report' }));
    expect(composeMessage([...reported, news({ kind: 'report', case: caseOf({ ref: 'LG-7' }) })], footer).subject).toBe(
      '[Larkfield Guide] reports of 2 cases',
    );
  });

  it('lets no text of an app make a line, a header or a tag', () => {
    const what = 'Evil\r\nBcc: all@larkfield.example\u2028<script>alert("1")</script>';
    const { subject, text, html } = composeMessage([news({ case: caseOf({ what, frames: ['<b>\nx'] }) })], footer);
    expect(subject).not.toMatch(/[\r\n\u2028]/);
    expect(text.split('\n')[0]).toContain('Evil Bcc: all@larkfield.example <script>');
    expect(html).not.toMatch(/<script|<b>\s*x/);
    expect(html).toContain('&lt;script&gt;alert(&quot;1&quot;)');
  });

  it('has a subject of bounded length, and the whole in its text', () => {
    const what = 'Endless'.repeat(100);
    const { subject, text } = composeMessage([news({ case: caseOf({ what }) })], footer);
    expect(subject.length).toBeLessThan(190);
    expect(text).toContain(what);
  });

  it('tells what is about no case in the words that were found', () => {
    const told = { headline: '98.1 % of sessions are free of crashes; the target is 99 %', facts: ['97.9 % to 98.3 %, 12,000 sessions'] };
    const { subject, text } = composeMessage([news({ kind: 'crash-free', case: null, told, acts: [] })], footer);
    expect(subject).toBe('[Larkfield Guide] 98.1 % of sessions are free of crashes; the target is 99 %');
    expect(text).toContain('    97.9 % to 98.3 %, 12,000 sessions');
  });
});
