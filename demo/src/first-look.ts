import type { FirstQuestion } from '@rough-ember/core/first-look/first-look';

/** Five questions about Larkfield Guide, whose answers lie in the stories of the demo. */
export const guideFirstLook: readonly FirstQuestion[] = [
  {
    question: 'Which version was halted on its way to everybody?',
    place: 'Versions',
    path: '/versions',
    choices: ['4.2.0', '4.3.0', '4.3.1'],
    answer: 2,
    because: '4.3.1 went to 20 % and was halted: its check says what it does not fulfil, each with its figures.',
  },
  {
    question: 'On which of these devices does the guide crash most often in 1,000 sessions?',
    place: 'Crash-free',
    path: '/crash-free?last=90d&form=lines&across=os.name',
    choices: ['Brill 6a', 'Tarn Go 3', 'Fenwick Note 9'],
    answer: 1,
    because: 'The Tarn Go 3 has 2 GB: the export of the diary fails on it and on no other. A click on the cell shows the case.',
  },
  {
    question: 'Whom does the night map crash for?',
    place: 'Cases',
    path: '/cases?filter=screen%20%3D%20night-map',
    choices: ['those who have Android 12', 'those for whom the flag night-map is on', 'those in Norway'],
    answer: 1,
    because: 'Under Who, flag night-map on stands out: everybody in the case has it, and about a third of all people do.',
  },
  {
    question: 'Which function came back after its case had been closed?',
    place: 'Cases',
    path: '/cases?last=30d&order=news',
    choices: ['SightingStore.write', 'TideTable.read', 'Checklist.count'],
    answer: 0,
    because: 'It was closed in 4.3.0, and a report of that version opened it again; its history tells when.',
  },
  {
    question: 'Of which build is the mapping missing, so that its stacks cannot be read?',
    place: 'Symbols',
    path: '/symbols',
    choices: ['420', '430', '431'],
    answer: 2,
    because: 'Drop demo/larkfield-guide/builds/4.3.1/mapping.txt there, and the cases become readable where they stand.',
  },
];
