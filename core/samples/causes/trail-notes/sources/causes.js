import { loadNotes, search, uploadAll, uploadOne } from './cloud.js';
import { Editor, groupByTag, tagsOf } from './notes.js';
import { Loop, Route } from './route.js';

const openRoute = (text) => Route.parse(text);
function showLength(route) {
  return route.length.toFixed(1);
}
const draw = (route, zoom) => route.simplify(zoom - 3).length;

export const causes = {
  brokenRoute: () => openRoute('{"name":"hill"'),
  namelessRoute: () => openRoute('{"points":[]}'),
  pastTheEnd: () => showLength(new Route('hill', [{ lat: 1, lon: 2 }])),
  nowhere: () => new Route('hill', [{ lat: 1, lon: 2 }]).nearest(null),
  noPoints: () => new Route('hill', []).nearest({ lat: 1, lon: 1 }),
  badZoom: () => draw(new Route('hill', []), 1),
  unmarkedLoop: () => new Loop('lake', [{ lat: 1, lon: 1 }]).close(),
  endlessWalk: () => new Loop('lake', [{ mark: 'a' }]).walk(),
  badTag: () => tagsOf({ text: 'seen #two-owls today' }),
  newTag: () => groupByTag([{ text: 'seen #owls' }]),
  nothingToUndo: () => new Editor([]).undo(),
  untagged: () => new Editor([{ text: 'a' }]).rename('owl', 'owls'),
  removedTwice: () => new Editor([]).remove(0),
  noList: () => loadNotes(),
  offline: () => search('owl'),
  noFile: () => uploadAll([undefined]),
  shortUpload: () => uploadOne('a note'),
};
