/** Acceleration of free fall as schools use it, m/s². */
export const SCHOOL_G = 9.81
