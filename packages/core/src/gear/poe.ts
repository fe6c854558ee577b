/** Kinds of power over the data cable. Kinds do not mix: passive supplies do not negotiate, standard ones will not feed a passive radio. */
export const poeKinds = ['passive24', 'passive48', '802.3af', '802.3at', '802.3bt'] as const;
export type PoeKind = (typeof poeKinds)[number];

/** What is written on the supplies. */
export const poeWords: Record<PoeKind, string> = {
  passive24: 'passive 24 V',
  passive48: 'passive 48 V',
  '802.3af': '802.3af',
  '802.3at': '802.3at',
  '802.3bt': '802.3bt',
};
