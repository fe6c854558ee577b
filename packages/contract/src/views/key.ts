/** How it stands with the key that passphrases are sealed with. */
export interface KeyView {
  /** nothing can be sealed */
  isMissing: boolean;
  /** passphrases and passwords that no key which is here opens */
  unreadable: number;
  /** it is told until somebody says that it is written down */
  mayBeWrittenDown: boolean;
}
