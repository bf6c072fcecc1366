/** Sequelize models of the tables that are read and written row by row. Sheets and bulk work use SQL. */
import type { Drive, RunKind } from '@early-set/core/api/types';
import type { DateInfo, ListInfo } from '@early-set/core/changes/snapshot';
import type { Step } from '@early-set/core/clean/steps';
import {
  DataTypes,
  Model,
  type InferAttributes,
  type InferCreationAttributes,
  type CreationOptional,
  type HasManyGetAssociationsMixin,
  type NonAttribute,
  type Sequelize,
} from 'sequelize';

export class Root extends Model<InferAttributes<Root>, InferCreationAttributes<Root>> {
  declare id: CreationOptional<number>;
  declare path: string;
  declare label: string;
  declare createdAt: CreationOptional<Date>;
  declare scannedAt: CreationOptional<Date | null>;
  declare measure: CreationOptional<boolean>;
  declare purpose: CreationOptional<'library' | 'destination'>;
  /** Taken out of the library; shown only while it has tracks. */
  declare removed: CreationOptional<boolean>;
  /** As it was when it was last there. */
  declare drive: CreationOptional<Drive | null>;
  /** Since when its drive is not there. */
  declare awaySince: CreationOptional<Date | null>;
  /** What comes there is scanned by itself. */
  declare watch: CreationOptional<boolean>;
  /** Why it cannot be. */
  declare watchTrouble: CreationOptional<string | null>;
  /** By which what comes is cleaned. */
  declare presetId: CreationOptional<number | null>;
  /** What comes is moved to where the naming rules want it. */
  declare putByRules: CreationOptional<boolean>;
  declare getRuns: HasManyGetAssociationsMixin<Run>;
}

export class Run extends Model<InferAttributes<Run>, InferCreationAttributes<Run>> {
  declare id: CreationOptional<number>;
  declare kind: RunKind;
  declare title: string;
  declare state: CreationOptional<'running' | 'done' | 'cancelled' | 'failed'>;
  declare reason: CreationOptional<string | null>;
  declare rootId: CreationOptional<number | null>;
  declare total: CreationOptional<number>;
  declare done: CreationOptional<number>;
  declare failed: CreationOptional<number>;
  declare current: CreationOptional<string | null>;
  declare report: CreationOptional<object | null>;
  /** What it works on. */
  declare payload: CreationOptional<object | null>;
  declare startedAt: CreationOptional<Date>;
  declare finishedAt: CreationOptional<Date | null>;
}

export class Setting extends Model<InferAttributes<Setting>, InferCreationAttributes<Setting>> {
  declare name: string;
  declare value: unknown;
}

export class ChangeSet extends Model<InferAttributes<ChangeSet>, InferCreationAttributes<ChangeSet>> {
  declare id: CreationOptional<number>;
  declare title: string;
  declare madeAt: CreationOptional<Date>;
  declare done: CreationOptional<number>;
  declare conflicts: CreationOptional<number>;
  declare undoOf: CreationOptional<number | null>;
  declare undoneBy: CreationOptional<number | null>;
  declare runId: CreationOptional<number | null>;
  /** The process that carries out its files. */
  declare workerId: CreationOptional<number | null>;
  declare run?: NonAttribute<Run | null>;
}

/** Steps of cleaning, saved under a name. */
export class Preset extends Model<InferAttributes<Preset>, InferCreationAttributes<Preset>> {
  declare id: CreationOptional<number>;
  declare name: string;
  declare steps: Step[];
  declare updatedAt: CreationOptional<Date>;
}

/** A date to prepare for. */
export class PlannedDate extends Model<InferAttributes<PlannedDate>, InferCreationAttributes<PlannedDate>> {
  declare id: CreationOptional<number>;
  declare name: string;
  declare kind: DateInfo['kind'];
  /** "2026-11-27". */
  declare day: string;
  declare startsAt: string | null;
  declare asks: DateInfo['asks'];
  declare listIds: string[];
}

/** A crate or playlist, without its entries: these come in thousands. */
export class List extends Model<InferAttributes<List>, InferCreationAttributes<List>> {
  declare id: string;
  declare kind: ListInfo['kind'];
  declare name: string;
  declare parentId: string | null;
  declare position: number;
  declare removed: boolean;
  declare startsAt: string | null;
  declare shape: CreationOptional<string | null>;
  declare rule: CreationOptional<string | null>;
  declare colour: CreationOptional<string | null>;
  declare note: CreationOptional<string | null>;
  declare wishedSeconds: CreationOptional<number | null>;
  declare reserveId: CreationOptional<string | null>;
  declare mirror: CreationOptional<string | null>;
  declare mirrorOf: CreationOptional<string | null>;
  declare clock: CreationOptional<string | null>;
  declare onAirAt: CreationOptional<number | null>;
  declare updatedAt: CreationOptional<Date>;
}

/** Ties the models to a connection. */
export function defineModels(sequelize: Sequelize): void {
  // Made anew for each model: Sequelize writes into them.
  const id = () => ({ type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true });
  const now = () => ({ type: DataTypes.DATE, defaultValue: DataTypes.NOW });
  Root.init(
    {
      id: id(),
      path: DataTypes.TEXT,
      label: DataTypes.TEXT,
      createdAt: now(),
      scannedAt: DataTypes.DATE,
      measure: { type: DataTypes.BOOLEAN, defaultValue: true },
      purpose: { type: DataTypes.TEXT, defaultValue: 'library' },
      removed: { type: DataTypes.BOOLEAN, defaultValue: false },
      drive: DataTypes.JSONB,
      awaySince: DataTypes.DATE,
      watchTrouble: DataTypes.TEXT,
      presetId: DataTypes.INTEGER,
      putByRules: { type: DataTypes.BOOLEAN, defaultValue: false },
      watch: { type: DataTypes.BOOLEAN, defaultValue: false },
    },
    { sequelize, tableName: 'roots' },
  );
  Run.init(
    {
      id: id(),
      kind: DataTypes.TEXT,
      title: DataTypes.TEXT,
      state: { type: DataTypes.TEXT, defaultValue: 'running' },
      reason: DataTypes.TEXT,
      rootId: DataTypes.INTEGER,
      total: { type: DataTypes.INTEGER, defaultValue: 0 },
      done: { type: DataTypes.INTEGER, defaultValue: 0 },
      failed: { type: DataTypes.INTEGER, defaultValue: 0 },
      current: DataTypes.TEXT,
      report: DataTypes.JSONB,
      payload: DataTypes.JSONB,
      startedAt: now(),
      finishedAt: DataTypes.DATE,
    },
    { sequelize, tableName: 'runs' },
  );
  Setting.init(
    { name: { type: DataTypes.TEXT, primaryKey: true }, value: DataTypes.JSONB },
    { sequelize, tableName: 'settings' },
  );
  ChangeSet.init(
    {
      id: id(),
      title: DataTypes.TEXT,
      madeAt: now(),
      done: { type: DataTypes.INTEGER, defaultValue: 0 },
      conflicts: { type: DataTypes.INTEGER, defaultValue: 0 },
      undoOf: DataTypes.INTEGER,
      undoneBy: DataTypes.INTEGER,
      runId: DataTypes.INTEGER,
      workerId: DataTypes.INTEGER,
    },
    { sequelize, tableName: 'change_sets' },
  );
  Preset.init(
    { id: id(), name: DataTypes.TEXT, steps: DataTypes.JSONB, updatedAt: now() },
    { sequelize, tableName: 'presets' },
  );
  PlannedDate.init(
    {
      id: id(),
      name: DataTypes.TEXT,
      kind: DataTypes.TEXT,
      day: DataTypes.DATEONLY,
      startsAt: DataTypes.TEXT,
      asks: DataTypes.TEXT,
      listIds: DataTypes.ARRAY(DataTypes.UUID),
    },
    { sequelize, tableName: 'dates' },
  );
  List.init(
    {
      id: { type: DataTypes.UUID, primaryKey: true },
      kind: DataTypes.TEXT,
      name: DataTypes.TEXT,
      parentId: DataTypes.UUID,
      position: DataTypes.DOUBLE,
      removed: DataTypes.BOOLEAN,
      startsAt: DataTypes.TEXT,
      shape: DataTypes.TEXT,
      rule: DataTypes.TEXT,
      colour: DataTypes.TEXT,
      note: DataTypes.TEXT,
      wishedSeconds: DataTypes.INTEGER,
      reserveId: DataTypes.UUID,
      mirror: DataTypes.TEXT,
      mirrorOf: DataTypes.UUID,
      clock: DataTypes.TEXT,
      onAirAt: DataTypes.DOUBLE,
      updatedAt: now(),
    },
    { sequelize, tableName: 'lists' },
  );
  // Dates hold the numbers of their lists in an order of their own, which is no association.
  Root.hasMany(Run, { as: 'runs', foreignKey: 'rootId' });
  ChangeSet.belongsTo(Run, { as: 'run', foreignKey: 'runId' });
}
