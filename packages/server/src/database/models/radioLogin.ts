import { type CreationOptional, type Sequelize } from 'sequelize';
import { vault } from '../../secrets/vault';
import { attributes, key, Row, tableOptions, text, uuid } from './columns';

/** With what one logs in to a radio's own page. */
export class RadioLoginRow extends Row<RadioLoginRow> {
  declare radioId: string;
  declare userName: string;
  /** null where a file left it out */
  declare password: string | null;
  declare version: CreationOptional<number>;
}

export function initRadioLogin(sequelize: Sequelize): void {
  RadioLoginRow.init(
    attributes({
      radioId: key(uuid),
      userName: text,
      // As passphrases of sheets: the database never has it in the clear.
      password: {
        ...text,
        get(this: RadioLoginRow): string | null {
          const stored = this.getDataValue('password');
          return stored && vault().open(stored);
        },
        set(this: RadioLoginRow, password: string | null) {
          this.setDataValue('password', password && vault().seal(password));
        },
      },
    }),
    tableOptions(sequelize, 'RadioLoginRow', 'radio_login', 'locked'),
  );
}
