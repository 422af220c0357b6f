/** The version of the product, as pages and health show it. */
export const VERSION = '0.2.0'
