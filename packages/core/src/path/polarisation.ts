/** How the waves of an antenna swing; `dual`: one stream each way, both at once. */
export const polarisations = ['vertical', 'horizontal', 'dual'] as const;
export type Polarisation = (typeof polarisations)[number];
export const polarisationWords: Record<Polarisation, string> = {
  vertical: 'vertical',
  horizontal: 'horizontal',
  dual: 'both at once',
};
