/** A tree of components one of which fails; prints the error and the stack of components that its boundary is told, and the log. */
import { createRequire } from 'node:module';

const require = createRequire(`${process.cwd()}/package.json`);
const React = require('react');
const { create, act: actOfRenderer } = require('react-test-renderer');
const element = React.createElement;

function ClipList({ clips }) {
  return element('ul', null, clips.cuts.map(String));
}
const Row = React.memo(function Row(props) {
  return element('div', null, element(ClipList, props));
});
const Fancy = React.forwardRef((props, _) => element(Row, props));
Fancy.displayName = 'Fancy';
class CameraScreen extends React.Component {
  render() {
    return element('section', null, element(Fancy, { clips: undefined }));
  }
}
const told = { log: [] };
class Boundary extends React.Component {
  state = {};
  static getDerivedStateFromError(error) {
    return { error };
  }
  componentDidCatch(error, { componentStack }) {
    Object.assign(told, { stack: error.stack, componentStack });
  }
  render() {
    return this.state.error ? null : this.props.children;
  }
}
const App = () => element(Boundary, null, element(CameraScreen));

console.error = (...all) =>
  told.log.push(
    all
      .filter((one) => !/^%o/.test(one))
      .map((one) => one?.stack ?? String(one))
      .join(' '),
  );
console.warn = () => {};
globalThis.IS_REACT_ACT_ENVIRONMENT = true;
const act = React.act ?? actOfRenderer ?? ((run) => run());
try {
  await act(async () => {
    create(element(App));
  });
} catch {}
process.stdout.write(JSON.stringify(told));
