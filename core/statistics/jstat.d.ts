/** What of jStat is used here; the package brings no types. */
declare module "jstat" {
  interface Distribution<P extends readonly number[]> {
    cdf(x: number, ...parameters: P): number;
    inv(p: number, ...parameters: P): number;
  }
  const jstat: {
    /** Degrees of freedom. */
    readonly chisquare: Distribution<[dof: number]>;
    /** Degrees of freedom. */
    readonly studentt: Distribution<[dof: number]>;
    /** Mean, standard deviation. */
    readonly normal: Distribution<[mean: number, deviation: number]>;
    /** The inverse of a square matrix. */
    inv(matrix: readonly (readonly number[])[]): number[][];
  };
  export default jstat;
}
