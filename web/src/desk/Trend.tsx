/** Reports over the window as a line; the shape is for the eye, the figures are beside it. */
export function Trend({ trend, width = 64, height = 16 }: { trend: readonly number[]; width?: number; height?: number }) {
  const most = Math.max(4, ...trend);
  const step = (width - 4) / Math.max(1, trend.length - 1);
  const points = trend.map((value, index) => `${(2 + index * step).toFixed(1)},${(height - 2 - (value / most) * (height - 4)).toFixed(1)}`);
  return (
    <svg width={width} height={height} aria-hidden="true">
      <polyline points={points.join(' ')} fill="none" stroke="var(--ink-faint)" strokeWidth="1.3" strokeLinejoin="round" />
    </svg>
  );
}
