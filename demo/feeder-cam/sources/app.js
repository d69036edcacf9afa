import { makeGallery } from './gallery.js';
import { detect } from './motion.js';
import { nextOpening, planFor } from './schedule.js';

/** What each screen does when it is opened, with the data that a camera in the field really sends now and then. */
const screens = {
  gallery: () => makeGallery([{ day: 'Monday', pictures: [] }]).show(['Monday', 'Tuesday']),
  live: () => detect([{ pixels: [1, 2] }, { pixels: [3, 4] }, {}], { threshold: 1 }),
  schedule: () => nextOpening({ times: [7.5, 12] }, 18),
  ...(RELEASE >= 290 ? { birds: () => planFor([{ hour: 6 }, { hour: 7 }, { hour: 8 }, { hour: 9 }]) } : {}),
};

function open(name) {
  return screens[name]();
}

for (const name of Object.keys(screens))
  try {
    open(name);
  } catch (error) {
    print(`== ${name}\n${error.stack}`);
  }
