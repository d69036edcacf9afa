/**
 * The quantile of the standard normal distribution: how many standard deviations leave the share `p` below.
 *
 * Acklam's rational approximation, whose relative error is below 1.15e-9 over the open interval from 0 to 1.
 */
export function normalQuantile(p: number): number {
  if (!(p > 0 && p < 1)) return p === 0 ? Number.NEGATIVE_INFINITY : p === 1 ? Number.POSITIVE_INFINITY : Number.NaN;
  const tail = 0.02425;
  if (p > 1 - tail) return -normalQuantile(1 - p);
  if (p < tail) {
    const q = Math.sqrt(-2 * Math.log(p));
    return polynomial(tailNumerator, q) / (polynomial(tailDenominator, q) * q + 1);
  }
  const q = p - 0.5;
  const r = q * q;
  return (polynomial(middleNumerator, r) * q) / (polynomial(middleDenominator, r) * r + 1);
}

/** Highest power first. */
const polynomial = (coefficients: readonly number[], x: number): number => coefficients.reduce((sum, one) => sum * x + one, 0);

const middleNumerator = [
  -39.69683028665376, 220.9460984245205, -275.9285104469687, 138.357751867269, -30.66479806614716, 2.506628277459239,
];
const middleDenominator = [-54.47609879822406, 161.5858368580409, -155.6989798598866, 66.80131188771972, -13.28068155288572];
const tailNumerator = [
  -0.007784894002430293, -0.3223964580411365, -2.400758277161838, -2.549732539343734, 4.374664141464968, 2.938163982698783,
];
const tailDenominator = [0.007784695709041462, 0.3224671290700398, 2.445134137142996, 3.754408661907416];

/** Standard deviations of a two-sided interval of 95 %. */
export const of95Percent = normalQuantile(0.975);
