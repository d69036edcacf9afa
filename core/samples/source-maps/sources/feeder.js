// Feeder Cam in small: watches feeders and counts visitors. Made to fail in many kinds of functions.
import { Camera, openCamera } from './camera.js';
import { summarise, visitors } from './visitors.js';

const failures = [];
const attempt = (name, run) => {
  try {
    run();
  } catch (error) {
    failures.push(`== ${name}\n${error.stack}`);
  }
};

export default function main() {
  attempt('method', () => new Camera('north').takePicture({ exposure: -1 }));
  attempt('static', () => Camera.fromSettings(null));
  attempt('getter', () => new Camera('south').lastPicture.size);
  attempt('private', () => new Camera('east').calibrate());
  attempt('callback', () => visitors([{ bird: 'tit' }, null]));
  attempt('property', () => summarise.byHour([{ at: 'noon' }]));
  attempt('wrapped', () => summarise.loud('wren'));
  attempt('generator', () => [...summarise.each(['a', undefined])]);
  return openCamera('west').catch((error) => {
    failures.push(`== asynchronous\n${error.stack}`);
  });
}

main().then(() => {
  const log = typeof print === 'function' ? print : console.log;
  for (const failure of failures) log(failure);
});
