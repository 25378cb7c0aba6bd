/** Tables as Sequelize models. Their shape is made by the migrations; this only names it. */
import { type CreationOptional, DataTypes, type ForeignKey, type InferAttributes, type InferCreationAttributes, Model, type Sequelize } from 'sequelize';

type Ready<M extends Model> = InferAttributes<M>;
type Fresh<M extends Model> = InferCreationAttributes<M>;

export class Production extends Model<Ready<Production>, Fresh<Production>> {
  declare id: string;
  declare name: string;
  declare createdAt: CreationOptional<Date>;
  declare deletedAt: CreationOptional<Date | null>;
}

export type PlateState = 'waiting' | 'ingesting' | 'ready' | 'failed';

export class Plate extends Model<Ready<Plate>, Fresh<Plate>> {
  declare id: string;
  declare state: PlateState;
  declare kind: 'video' | 'sequence' | 'still';
  /** File name as it was given. */
  declare sourceName: string;
  declare width: CreationOptional<number | null>;
  declare height: CreationOptional<number | null>;
  declare proxyWidth: CreationOptional<number | null>;
  declare proxyHeight: CreationOptional<number | null>;
  declare frames: CreationOptional<number | null>;
  declare rateNum: CreationOptional<number | null>;
  declare rateDen: CreationOptional<number | null>;
  declare firstNumber: CreationOptional<number>;
  declare hasSound: CreationOptional<boolean>;
  /** What ffprobe said, as kept for reading the original again. */
  declare probe: string;
}

export class Shot extends Model<Ready<Shot>, Fresh<Shot>> {
  declare id: string;
  declare productionId: ForeignKey<string>;
  declare plateId: ForeignKey<string>;
  declare name: string;
  /** The document as JSON; null until the plate is in. */
  declare document: CreationOptional<string | null>;
  declare revision: CreationOptional<number>;
  declare createdAt: CreationOptional<Date>;
  declare updatedAt: CreationOptional<Date>;
  declare deletedAt: CreationOptional<Date | null>;
}

export class ChangeRow extends Model<Ready<ChangeRow>, Fresh<ChangeRow>> {
  declare shotId: ForeignKey<string>;
  declare revision: number;
  declare changeId: string;
  declare role: 'start' | 'do' | 'undo' | 'redo';
  declare target: string | null;
  declare label: string;
  declare edits: string;
  declare inverse: string;
  declare page: string;
  declare createdAt: CreationOptional<Date>;
}

/** Something that is kept for use again, in all productions. */
export class LibraryRow extends Model<Ready<LibraryRow>, Fresh<LibraryRow>> {
  declare id: string;
  /** Where it was kept; null where that is gone. It is offered everywhere. */
  declare productionId: ForeignKey<string> | null;
  declare kind: 'shape' | 'edge' | 'effect' | 'element' | 'peel' | 'track' | 'start' | 'outputs';
  declare name: string;
  /** As JSON; what it is depends on the kind. */
  declare content: string;
  declare createdAt: CreationOptional<Date>;
}

/** A shot's document as it was, under a name, to compare with. */
export class Snapshot extends Model<Ready<Snapshot>, Fresh<Snapshot>> {
  declare id: string;
  declare shotId: ForeignKey<string>;
  declare name: string;
  declare document: string;
  declare createdAt: CreationOptional<Date>;
}

const JOB_STATES = ['queued', 'running', 'paused', 'cancelled', 'done', 'failed'] as const;
export type JobState = (typeof JOB_STATES)[number];

export class Job extends Model<Ready<Job>, Fresh<Job>> {
  declare id: string;
  declare kind: string;
  /** Jobs that are one work to people share it. */
  declare groupId: CreationOptional<string | null>;
  /** What it is about, in words. */
  declare label: CreationOptional<string>;
  /** Nobody waits for it. */
  declare background: CreationOptional<boolean>;
  declare shotId: ForeignKey<string>;
  declare state: JobState;
  declare payload: string;
  declare done: CreationOptional<number>;
  declare total: CreationOptional<number>;
  declare message: CreationOptional<string | null>;
  declare result: CreationOptional<string | null>;
  declare workedMs: CreationOptional<number>;
  declare createdAt: CreationOptional<Date>;
  declare finishedAt: CreationOptional<Date | null>;
}

// Sequelize writes into the descriptions it is given, so each column has its own.
const id = () => ({ type: DataTypes.STRING(40), primaryKey: true });
const when = () => ({ type: DataTypes.DATE(3), allowNull: false, defaultValue: DataTypes.NOW });
const maybeWhen = () => ({ type: DataTypes.DATE(3), allowNull: true });
const text = () => ({ type: DataTypes.TEXT('long'), allowNull: false });
const maybeNumber = () => ({ type: DataTypes.INTEGER, allowNull: true });

export function initModels(sequelize: Sequelize): void {
  const common = { sequelize, underscored: true, timestamps: false } as const;
  Production.init({ id: id(), name: DataTypes.STRING(120), createdAt: when(), deletedAt: maybeWhen() }, { ...common, tableName: 'productions' });
  Plate.init(
    {
      id: id(),
      state: DataTypes.STRING(16),
      kind: DataTypes.STRING(16),
      sourceName: DataTypes.STRING(255),
      width: maybeNumber(),
      height: maybeNumber(),
      proxyWidth: maybeNumber(),
      proxyHeight: maybeNumber(),
      frames: maybeNumber(),
      rateNum: maybeNumber(),
      rateDen: maybeNumber(),
      firstNumber: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      hasSound: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      probe: text(),
    },
    { ...common, tableName: 'plates' },
  );
  Shot.init(
    {
      id: id(),
      productionId: DataTypes.STRING(40),
      plateId: DataTypes.STRING(40),
      name: DataTypes.STRING(120),
      document: { type: DataTypes.TEXT('long'), allowNull: true },
      revision: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      createdAt: when(),
      updatedAt: when(),
      deletedAt: maybeWhen(),
    },
    { ...common, tableName: 'shots' },
  );
  ChangeRow.init(
    {
      shotId: { type: DataTypes.STRING(40), primaryKey: true },
      revision: { type: DataTypes.INTEGER, primaryKey: true },
      changeId: DataTypes.STRING(64),
      role: DataTypes.STRING(8),
      target: { type: DataTypes.STRING(64), allowNull: true },
      label: DataTypes.STRING(120),
      edits: text(),
      inverse: text(),
      page: DataTypes.STRING(64),
      createdAt: when(),
    },
    { ...common, tableName: 'changes' },
  );
  Job.init(
    {
      id: id(),
      kind: DataTypes.STRING(40),
      groupId: { type: DataTypes.STRING(40), allowNull: true },
      label: { type: DataTypes.STRING(250), allowNull: false, defaultValue: '' },
      background: { type: DataTypes.BOOLEAN, allowNull: false, defaultValue: false },
      shotId: DataTypes.STRING(40),
      state: DataTypes.STRING(16),
      payload: text(),
      done: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      total: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      message: { type: DataTypes.TEXT, allowNull: true },
      result: { type: DataTypes.TEXT, allowNull: true },
      workedMs: { type: DataTypes.INTEGER, allowNull: false, defaultValue: 0 },
      createdAt: when(),
      finishedAt: maybeWhen(),
    },
    { ...common, tableName: 'jobs' },
  );
  LibraryRow.init(
    {
      id: id(),
      productionId: DataTypes.STRING(40),
      kind: DataTypes.STRING(16),
      name: DataTypes.STRING(120),
      content: text(),
      createdAt: when(),
    },
    { ...common, tableName: 'library_items' },
  );
  Snapshot.init(
    { id: id(), shotId: DataTypes.STRING(40), name: DataTypes.STRING(120), document: text(), createdAt: when() },
    { ...common, tableName: 'snapshots' },
  );
  Production.hasMany(Shot, { foreignKey: 'productionId', as: 'shots' });
  Shot.belongsTo(Production, { foreignKey: 'productionId', as: 'production' });
  Shot.belongsTo(Plate, { foreignKey: 'plateId', as: 'plate' });
}
