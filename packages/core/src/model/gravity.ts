/** Standard gravity, m/s² (3rd General Conference on Weights and Measures, 1901). */
export const STANDARD_GRAVITY = 9.80665;
