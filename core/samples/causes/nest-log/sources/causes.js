import { eggsOf, longest, placeOf, readSeason } from './parse.js';
import { lookUp, register, renameAll, Shelf } from './store.js';
import { inParallel, Queue, refreshBirds, refreshNests } from './sync.js';
import { heavy, labelOf, paint, roots, spread } from './tree.js';

const importLog = (text) => readSeason(text).length;
function showMap(row) {
  const { east, north } = placeOf(row);
  return east + north;
}
const countEggs = (rows) => rows.map((row) => eggsOf(row)).length;

export const causes = {
  missingEggs: () => countEggs(['robin', 'wren']),
  missingDate: () => importLog('robin;4'),
  invalidDate: () => importLog('robin;4;spring;hedge'),
  noPlace: () => showMap('robin;4;2026-05-01;north'),
  missingPlace: () => showMap('robin;4'),
  longRow: () => longest('robin;4\nwren;5\na very long row of the log;1\n'),
  fullBox: () => Shelf.open('hedge', ['a;1', 'b;2', 'c;3', 'd;4']),
  emptyShelf: () => new Shelf('empty', []).describe(),
  brokenTotal: () => register(new Shelf('broken', ['wren'])).describe(),
  unknownShelf: () => lookUp('nowhere'),
  unsortable: () => {
    register(new Shelf('rows', ['a;1', 'b;2']));
    return renameAll(['rows']);
  },
  serverDown: () => refreshNests(),
  emptyAnswer: () => refreshBirds(),
  badRow: () => new Queue().flush(),
  droppedRow: () => new Queue().schedule(),
  noSample: () => inParallel(),
  leafWithoutBranches: () => heavy(),
  endlessRoots: () => roots(),
  endlessSpread: () => spread({ name: 'moss' }),
  noColour: () => paint({ name: 'moss' }, { colours: {} }),
  noOwner: () => labelOf('nest', { name: 'nest' }),
  noEgg: () => labelOf('egg-1', { name: 'egg' }),
};
