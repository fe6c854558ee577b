import {
  DataTypes,
  Model,
  type InferAttributes,
  type InferCreationAttributes,
  type InitOptions,
  type ModelAttributes,
  type Sequelize,
} from 'sequelize';

// The tables as Sequelize sees them. Columns and constraints are the migrations'; here are names and types only.

export const text = { type: DataTypes.TEXT, allowNull: true };
export const number = { type: DataTypes.DOUBLE, allowNull: true };
export const whole = { type: DataTypes.INTEGER, allowNull: true };
export const flag = { type: DataTypes.BOOLEAN, allowNull: true };
export const uuid = { type: DataTypes.UUID, allowNull: true };
export const json = { type: DataTypes.JSONB, allowNull: true };
export const time = { type: DataTypes.DATE, allowNull: true };
export const id = { type: DataTypes.UUID, primaryKey: true, defaultValue: DataTypes.UUIDV4 };
export const version = { ...whole, defaultValue: 0 };
export const now = { ...time, defaultValue: DataTypes.NOW };
export const key = (type: ModelAttributes[string]) => ({ ...(type as object), primaryKey: true });

export class Row<M extends Model> extends Model<InferAttributes<M>, InferCreationAttributes<M>> {}

/** Sequelize writes into the attributes it is given, so each table gets copies; their types cannot be inferred from one, hence the cast. */
export function attributes(map: Record<string, object>): never {
  return Object.fromEntries(Object.entries(map).map(([name, attribute]) => [name, { ...attribute }])) as never;
}

/** The name survives minifying; a locked table counts versions, so that two people cannot overwrite each other. */
export function tableOptions<M extends Model>(
  sequelize: Sequelize,
  modelName: string,
  tableName: string,
  locking?: 'locked',
): InitOptions<M> {
  return { sequelize, modelName, tableName, ...(locking && { version: true }) };
}
