/** The tables, step by step. A migration that has run anywhere is never edited; the next change is a new one. */
import type { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';

const first = [
  `create table productions (
    id varchar(40) primary key,
    name varchar(120) not null check (name <> ''),
    created_at datetime(3) not null,
    deleted_at datetime(3) null
  )`,
  `create table plates (
    id varchar(40) primary key,
    state enum('waiting','ingesting','ready','failed') not null,
    kind enum('video','sequence','still') not null,
    source_name varchar(255) not null,
    width int null, height int null, proxy_width int null, proxy_height int null,
    frames int null check (frames > 0), rate_num int null check (rate_num > 0), rate_den int null check (rate_den > 0),
    first_number int not null default 0,
    has_sound tinyint(1) not null default 0,
    probe longtext not null check (json_valid(probe)),
    constraint ready_is_whole check (state <> 'ready' or (width is not null and height is not null and frames is not null and rate_num is not null and rate_den is not null))
  )`,
  `create table shots (
    id varchar(40) primary key,
    production_id varchar(40) not null,
    plate_id varchar(40) not null,
    name varchar(120) not null check (name <> ''),
    document longtext null check (document is null or json_valid(document)),
    revision int not null default 0,
    created_at datetime(3) not null,
    updated_at datetime(3) not null,
    deleted_at datetime(3) null,
    constraint shot_production foreign key (production_id) references productions (id),
    constraint shot_plate foreign key (plate_id) references plates (id),
    index shots_of_production (production_id, deleted_at, created_at)
  )`,
  `create table changes (
    shot_id varchar(40) not null,
    revision int not null,
    change_id varchar(64) not null,
    role enum('do','undo','redo') not null,
    target varchar(64) null,
    label varchar(120) not null,
    edits longtext not null check (json_valid(edits)),
    inverse longtext not null check (json_valid(inverse)),
    page varchar(64) not null,
    created_at datetime(3) not null,
    primary key (shot_id, revision),
    unique key one_change_once (shot_id, change_id),
    constraint change_shot foreign key (shot_id) references shots (id) on delete cascade,
    constraint target_goes_with_role check ((role = 'do') = (target is null))
  )`,
  `create table jobs (
    id varchar(40) primary key,
    kind varchar(40) not null,
    shot_id varchar(40) not null,
    state enum('queued','running','paused','cancelled','done','failed') not null,
    payload longtext not null check (json_valid(payload)),
    done int not null default 0,
    total int not null default 0,
    message text null,
    result text null check (result is null or json_valid(result)),
    heartbeat datetime(3) null,
    worked_ms int not null default 0,
    created_at datetime(3) not null,
    finished_at datetime(3) null,
    constraint job_shot foreign key (shot_id) references shots (id) on delete cascade,
    index jobs_by_state (state, created_at),
    index jobs_of_shot (shot_id, created_at)
  )`,
];

const library = [
  `create table library_shapes (
    id varchar(40) primary key,
    production_id varchar(40) not null,
    name varchar(120) not null,
    curves longtext not null check (json_valid(curves)),
    created_at datetime(3) not null,
    constraint shape_production foreign key (production_id) references productions (id) on delete cascade,
    index shapes_of_production (production_id, created_at)
  )`,
];

const keptThings = [
  `rename table library_shapes to library_items`,
  `alter table library_items change curves content longtext not null check (json_valid(content)), add kind enum('shape','edge','effect') not null default 'shape'`,
  `create table snapshots (
    id varchar(40) primary key,
    shot_id varchar(40) not null,
    name varchar(120) not null check (name <> ''),
    document longtext not null check (json_valid(document)),
    created_at datetime(3) not null,
    constraint snapshot_shot foreign key (shot_id) references shots (id) on delete cascade,
    index snapshots_of_shot (shot_id, created_at)
  )`,
];

const run = async (sequelize: Sequelize, statements: string[]) => {
  for (const statement of statements) await sequelize.query(statement);
};

/** Brings the database to the newest form. Safe to call at every start. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const umzug = new Umzug({
    migrations: [
      {
        name: '001-productions-shots-changes-jobs',
        up: () => run(sequelize, first),
        down: () =>
          run(
            sequelize,
            ['jobs', 'changes', 'shots', 'plates', 'productions'].map((t) => `drop table ${t}`),
          ),
      },
      { name: '002-library-shapes', up: () => run(sequelize, library), down: () => run(sequelize, ['drop table library_shapes']) },
      {
        name: '003-presets-snapshots',
        up: () => run(sequelize, keptThings),
        down: () =>
          run(sequelize, [
            'drop table snapshots',
            `delete from library_items where kind <> 'shape'`,
            'alter table library_items drop column kind, change content curves longtext not null check (json_valid(curves))',
            'rename table library_items to library_shapes',
          ]),
      },
      {
        name: '004-presets-of-elements',
        up: () => run(sequelize, [`alter table library_items modify kind enum('shape','edge','effect','element') not null default 'shape'`]),
        down: () =>
          run(sequelize, [
            `delete from library_items where kind = 'element'`,
            `alter table library_items modify kind enum('shape','edge','effect') not null default 'shape'`,
          ]),
      },
      {
        // The demo's own steps are where its shots begin.
        name: '005-shots-begin-as-set-up',
        up: () =>
          run(sequelize, [
            `alter table changes modify role enum('do','undo','redo','start') not null, drop constraint target_goes_with_role`,
            `alter table changes add constraint target_goes_with_role check ((role in ('do', 'start')) = (target is null))`,
            `update changes set role = 'start' where page = 'demo' and role = 'do'`,
          ]),
        down: () =>
          run(sequelize, [
            `update changes set role = 'do' where role = 'start'`,
            `alter table changes modify role enum('do','undo','redo') not null, drop constraint target_goes_with_role`,
            `alter table changes add constraint target_goes_with_role check ((role = 'do') = (target is null))`,
          ]),
      },
      {
        name: '006-jobs-in-groups',
        up: () =>
          run(sequelize, [
            `alter table jobs add group_id varchar(40) null, add label varchar(250) not null default '', add background tinyint(1) not null default 0`,
          ]),
        down: () => run(sequelize, ['alter table jobs drop column group_id, drop column label, drop column background']),
      },
      {
        // One server at a time works on the data, so nothing was ever told from it.
        name: '007-jobs-without-heartbeat',
        up: () => run(sequelize, ['alter table jobs drop column heartbeat']),
        down: () => run(sequelize, ['alter table jobs add heartbeat datetime(3) null']),
      },
      {
        // What was kept in one production is there in all, and stays when that is gone.
        name: '008-library-of-all-productions',
        up: () =>
          run(sequelize, [
            'alter table library_items drop foreign key shape_production',
            `alter table library_items modify production_id varchar(40) null, modify kind enum('shape','edge','effect','element','peel','track') not null default 'shape'`,
            'alter table library_items add constraint shape_production foreign key (production_id) references productions (id) on delete set null',
          ]),
        down: () =>
          run(sequelize, [
            `delete from library_items where production_id is null or kind in ('peel','track')`,
            'alter table library_items drop foreign key shape_production',
            `alter table library_items modify production_id varchar(40) not null, modify kind enum('shape','edge','effect','element') not null default 'shape'`,
            'alter table library_items add constraint shape_production foreign key (production_id) references productions (id) on delete cascade',
          ]),
      },
      {
        name: '009-starts-in-the-library',
        up: () =>
          run(sequelize, [`alter table library_items modify kind enum('shape','edge','effect','element','peel','track','start') not null default 'shape'`]),
        down: () =>
          run(sequelize, [
            `delete from library_items where kind = 'start'`,
            `alter table library_items modify kind enum('shape','edge','effect','element','peel','track') not null default 'shape'`,
          ]),
      },
      {
        name: '010-outputs-in-the-library',
        up: () =>
          run(sequelize, [
            `alter table library_items modify kind enum('shape','edge','effect','element','peel','track','start','outputs') not null default 'shape'`,
          ]),
        down: () =>
          run(sequelize, [
            `delete from library_items where kind = 'outputs'`,
            `alter table library_items modify kind enum('shape','edge','effect','element','peel','track','start') not null default 'shape'`,
          ]),
      },
    ],
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  });
  await umzug.up();
}
