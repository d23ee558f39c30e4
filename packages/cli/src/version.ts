/** As in the package's own description. */
export const version = '0.1.0';
