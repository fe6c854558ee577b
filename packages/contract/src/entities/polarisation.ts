export const polarisations = ['vertical', 'horizontal', 'dual'] as const;
