const leaf = { name: 'twig', branches: null };

export function weigh(node) {
  return node.branches.reduce((sum, branch) => sum + weigh(branch), node.weight);
}

export function depthOf(node) {
  return 1 + heightOf(node);
}

function heightOf(node) {
  return depthOf(node.up);
}

export const roots = () => {
  const node = { name: 'root' };
  node.up = node;
  return depthOf(node);
};

export function spread(node) {
  const self = () => spread(node);
  return [self()].length;
}

export function paint(node, brush) {
  const stroke = () => brush.colours[node.name].toString(16);
  return stroke();
}

export const heavy = () => weigh({ weight: 1, branches: [{ weight: 1, branches: [] }, leaf] });

export const labels = {
  twig: (node) => node.name.trim(),
  nest(node) {
    return node.owner.name;
  },
  ['egg-' + 1](node) {
    return node.egg.colour.name;
  },
};

export const labelOf = (kind, node) => labels[kind](node);
