import type { MigrationInterface, QueryRunner } from 'typeorm'
import { matteName } from './matteName.ts'

/** The first tables: projects, their records, the log of changes, footage and outputs. */
class FirstTables1764000000000 implements MigrationInterface {
  name = 'FirstTables1764000000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "project" ("id" text PRIMARY KEY NOT NULL,
      "name" text NOT NULL,
      "created" text NOT NULL,
      "light" text NOT NULL,
      "revision" integer NOT NULL,
      "changed" text NOT NULL,
      "deleted" text)
    `)
    await runner.query(`
      CREATE TABLE "media" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "name" text NOT NULL,
      "hash" text NOT NULL,
      "codec" text NOT NULL,
      "audio" text NOT NULL,
      "width" integer NOT NULL,
      "height" integer NOT NULL,
      "rotation" integer NOT NULL,
      "frames" integer NOT NULL,
      "rate" real NOT NULL,
      "variableRate" boolean NOT NULL,
      "seconds" real NOT NULL,
      "bytes" integer NOT NULL,
      "matrix" text NOT NULL,
      "range" text NOT NULL,
      "tagged" boolean NOT NULL,
      CONSTRAINT "FK_449bd6a5b51c5dc65ba88b79031" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "shot" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "media" text NOT NULL,
      "name" text NOT NULL,
      "order" real NOT NULL,
      "in" integer NOT NULL,
      "out" integer NOT NULL,
      CONSTRAINT "FK_716b74e31eeea7d7e44affe7afb" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_601891bbeee65ab5c947a24d4f6" FOREIGN KEY ("media") REFERENCES "media" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "member" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "name" text NOT NULL,
      "kind" text NOT NULL,
      "colour" integer NOT NULL,
      "order" real NOT NULL,
      CONSTRAINT "FK_f8d04cd78821af675bd5548791f" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_6f8c843362e8a31224f97c5f639" FOREIGN KEY ("shot") REFERENCES "shot" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "part" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "member" text NOT NULL,
      "name" text NOT NULL,
      "kind" text NOT NULL,
      "order" real NOT NULL,
      "tween" text NOT NULL,
      "hold" boolean NOT NULL,
      "settings" text NOT NULL,
      CONSTRAINT "FK_42fac88d3d1cb97568ff1f92ebb" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_92d9c942915203905533adad062" FOREIGN KEY ("member") REFERENCES "member" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "key" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "part" text NOT NULL,
      "frame" integer NOT NULL,
      "points" text NOT NULL,
      CONSTRAINT "FK_5ae265541fdd65d824582845de8" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_c336ceef12c3bdd08f9b6784074" FOREIGN KEY ("part") REFERENCES "part" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "away" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "part" text NOT NULL,
      "from" integer NOT NULL,
      "to" integer NOT NULL,
      CONSTRAINT "FK_dce91ccb80673a9c5125ddffba8" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_cba937e104b7b1563f491d14904" FOREIGN KEY ("part") REFERENCES "part" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "effect" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "kind" text NOT NULL,
      "order" real NOT NULL,
      "on" boolean NOT NULL,
      "target" text NOT NULL,
      "behind" text NOT NULL,
      "blend" text NOT NULL,
      "opacity" real NOT NULL,
      "settings" text NOT NULL,
      CONSTRAINT "FK_1d04e8ce82f7d9af8bcc6ddd299" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_8665d6e1c1a8b4b5f058513076f" FOREIGN KEY ("shot") REFERENCES "shot" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "change" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "revision" integer NOT NULL,
      "label" text NOT NULL,
      "diff" text NOT NULL,
      "at" text NOT NULL,
      CONSTRAINT "FK_00d68f5597fe7e8c674b09fba46" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE TABLE "footage" ("hash" text PRIMARY KEY NOT NULL,
      "bytes" integer NOT NULL,
      "facts" text NOT NULL,
      "stored" text NOT NULL)
    `)
    await runner.query(`
      CREATE TABLE "output" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "name" text NOT NULL,
      "bytes" integer NOT NULL,
      "about" text NOT NULL,
      "made" text NOT NULL,
      CONSTRAINT "FK_a06bfc8573d9c2841c367314132" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      CREATE INDEX "media_by_project" ON "media" ("project") 
    `)
    await runner.query(`
      CREATE INDEX "media_by_hash" ON "media" ("hash") 
    `)
    await runner.query(`
      CREATE INDEX "shot_by_project" ON "shot" ("project") 
    `)
    await runner.query(`
      CREATE INDEX "member_by_project" ON "member" ("project") 
    `)
    await runner.query(`
      CREATE INDEX "part_by_project" ON "part" ("project") 
    `)
    await runner.query(`
      CREATE INDEX "key_by_project" ON "key" ("project") 
    `)
    await runner.query(`
      CREATE INDEX "key_by_part" ON "key" ("part") 
    `)
    await runner.query(`
      CREATE INDEX "away_by_project" ON "away" ("project") 
    `)
    await runner.query(`
      CREATE INDEX "effect_by_project" ON "effect" ("project") 
    `)
    await runner.query(`
      CREATE UNIQUE INDEX "change_by_revision" ON "change" ("project",
      "revision") 
    `)
    await runner.query(`
      CREATE INDEX "output_by_project" ON "output" ("project") 
    `)
  }
  async down(): Promise<void> {
    throw new Error('The first tables can not be taken back; delete the data folder instead.')
  }
}

/** What the tracing bench adds: roles and states of parts, riding, a style per span, marks. */
class TracingBench1764100000000 implements MigrationInterface {
  name = 'TracingBench1764100000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "part" ADD COLUMN "role" text NOT NULL DEFAULT ('add')`)
    await runner.query(`ALTER TABLE "part" ADD COLUMN "hidden" boolean NOT NULL DEFAULT (0)`)
    await runner.query(`ALTER TABLE "part" ADD COLUMN "locked" boolean NOT NULL DEFAULT (0)`)
    await runner.query(`ALTER TABLE "part" ADD COLUMN "ride" text`)
    await runner.query(`ALTER TABLE "key" ADD COLUMN "tween" text NOT NULL DEFAULT ('')`)
    await runner.query(`
      CREATE TABLE "mark" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "frame" integer NOT NULL,
      "note" text NOT NULL,
      CONSTRAINT "FK_e64e54c01f8aee6b1d1469736eb" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_f81a406804f9a86e25b18141b0e" FOREIGN KEY ("shot") REFERENCES "shot" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`CREATE INDEX "mark_by_project" ON "mark" ("project")`)
  }
  async down(): Promise<void> {
    throw new Error('The tables of the tracing bench can not be taken back; restore a copy of the data folder instead.')
  }
}

/** What effects of all kinds need: a region, a range of frames, a group, an opacity that moves over time; and looks. */
class EffectsOnShapes1764200000000 implements MigrationInterface {
  name = 'EffectsOnShapes1764200000000'
  async up(runner: QueryRunner): Promise<void> {
    // Opacity was a real number; a column can not change its type in place, so the table is made anew.
    await runner.query(`
      CREATE TABLE "temporary_effect" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "kind" text NOT NULL,
      "order" real NOT NULL,
      "on" boolean NOT NULL,
      "target" text NOT NULL,
      "behind" text NOT NULL,
      "blend" text NOT NULL,
      "settings" text NOT NULL,
      "region" text NOT NULL,
      "range" text,
      "group" text NOT NULL DEFAULT (''),
      "opacity" text NOT NULL,
      CONSTRAINT "FK_8665d6e1c1a8b4b5f058513076f" FOREIGN KEY ("shot") REFERENCES "shot" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_1d04e8ce82f7d9af8bcc6ddd299" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`
      INSERT INTO "temporary_effect"
      SELECT "id", "project", "shot", "kind", "order", "on", "target", "behind", "blend", "settings",
      '{"of":[],"side":"inside","grow":0,"soften":0}', NULL, '', CAST("opacity" AS text) FROM "effect"
    `)
    await runner.query(`DROP TABLE "effect"`)
    await runner.query(`ALTER TABLE "temporary_effect" RENAME TO "effect"`)
    await runner.query(`CREATE INDEX "effect_by_project" ON "effect" ("project")`)
    await runner.query(`
      CREATE TABLE "look" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "name" text NOT NULL,
      "about" text NOT NULL,
      "needs" text NOT NULL,
      "cards" text NOT NULL,
      "preview" text NOT NULL,
      CONSTRAINT "FK_03cce621cf250634ff0383e281f" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`CREATE INDEX "look_by_project" ON "look" ("project")`)
  }
  async down(): Promise<void> {
    throw new Error('Regions and ranges of effects can not be taken back; restore a copy of the data folder instead.')
  }
}

/** Over how many frames a shot runs together with the next one; how much of a group is laid on. */
class JoinedShots1764300000000 implements MigrationInterface {
  name = 'JoinedShots1764300000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "shot" ADD COLUMN "join" integer NOT NULL DEFAULT (0)`)
    await runner.query(`ALTER TABLE "effect" ADD COLUMN "groupOpacity" real NOT NULL DEFAULT (1)`)
  }
  async down(): Promise<void> {
    throw new Error('Joins can not be taken back; restore a copy of the data folder instead.')
  }
}

/** How sure a followed key is. */
class FollowedKeys1764400000000 implements MigrationInterface {
  name = 'FollowedKeys1764400000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "key" ADD COLUMN "followed" real`)
  }
  async down(): Promise<void> {
    throw new Error('What was followed can not be taken back; restore a copy of the data folder instead.')
  }
}

/** Painted mattes: strokes, and the pixels of a key. */
class PaintedMattes1764500000000 implements MigrationInterface {
  name = 'PaintedMattes1764500000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "key" ADD COLUMN "matte" text`)
    await runner.query(`
      CREATE TABLE "stroke" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "part" text NOT NULL,
      "frame" integer NOT NULL,
      "order" real NOT NULL,
      "wanted" boolean NOT NULL,
      "size" real NOT NULL,
      "points" text NOT NULL,
      CONSTRAINT "FK_064a5d29ed7f2fd9c47c00a1f1d" FOREIGN KEY ("part") REFERENCES "part" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_75550b568596ee0dae70766cff9" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`CREATE INDEX "stroke_by_project" ON "stroke" ("project")`)
    await runner.query(`CREATE INDEX "stroke_by_part" ON "stroke" ("part")`)
  }
  async down(): Promise<void> {
    throw new Error('Painted mattes can not be taken back; restore a copy of the data folder instead.')
  }
}

/** The pixels of mattes apart from the keys and changes that have them. */
class MattesApart1764600000000 implements MigrationInterface {
  name = 'MattesApart1764600000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE "matte" ("name" text PRIMARY KEY NOT NULL, "data" text NOT NULL, "loose" text)`)
    const keys = (await runner.query(`SELECT id FROM "key" WHERE matte IS NOT NULL`)) as { id: string }[]
    for (const { id } of keys) {
      const [{ matte }] = (await runner.query(`SELECT matte FROM "key" WHERE id = ?`, [id])) as [{ matte: string }]
      const kept = JSON.parse(matte) as { data: string }
      await runner.query(`UPDATE "key" SET matte = ? WHERE id = ?`, [JSON.stringify(await apart(runner, kept)), id])
    }
    const changes = (await runner.query(`SELECT id FROM change WHERE instr(diff, '"matte":{') > 0`)) as { id: string }[]
    for (const { id } of changes) {
      const [{ diff }] = (await runner.query(`SELECT diff FROM change WHERE id = ?`, [id])) as [{ diff: string }]
      const change = JSON.parse(diff) as { put: { matte?: { data: string } | null }[] }
      for (const record of change.put) if (record.matte) record.matte = await apart(runner, record.matte)
      await runner.query(`UPDATE change SET diff = ? WHERE id = ?`, [JSON.stringify(change), id])
    }
  }
  async down(): Promise<void> {
    throw new Error('Mattes that lie apart can not be put back; restore a copy of the data folder instead.')
  }
}
async function apart<M extends { data: string }>(runner: QueryRunner, matte: M): Promise<M> {
  const name = matteName(matte.data)
  await runner.query(`INSERT OR IGNORE INTO matte (name, data) VALUES (?, ?)`, [name, matte.data])
  return { ...matte, data: `#${name}` }
}

/** Clips that have to be converted. */
class Conversions1764700000000 implements MigrationInterface {
  name = 'Conversions1764700000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "conversion" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "name" text NOT NULL,
      "source" text NOT NULL,
      "bytes" integer NOT NULL,
      "called" text NOT NULL,
      "state" text NOT NULL,
      "result" text NOT NULL,
      "error" text NOT NULL,
      "asked" text NOT NULL,
      "questions" text,
      "choices" text,
      CONSTRAINT "FK_4b1ee1401892408af7a8e7d3f75" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`CREATE INDEX "conversion_by_project" ON "conversion" ("project")`)
  }
  async down(): Promise<void> {
    throw new Error('Conversions can not be taken back; restore a copy of the data folder instead.')
  }
}

/** Sounds of shots, and how loud each shot is. */
class Sounds1764800000000 implements MigrationInterface {
  name = 'Sounds1764800000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "shot" ADD COLUMN "level" real NOT NULL DEFAULT (0)`)
    await runner.query(`
      CREATE TABLE "sound" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "order" real NOT NULL,
      "kind" text NOT NULL,
      "on" boolean NOT NULL,
      "way" text NOT NULL,
      "target" text NOT NULL,
      "source" text NOT NULL,
      "with" text NOT NULL,
      "beads" text NOT NULL,
      "range" text,
      "takes" text NOT NULL,
      "settings" text NOT NULL,
      CONSTRAINT "FK_621506ade96a62c5e9920aee3f3" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_0d7bfb3be44ebb24f0abf490c1f" FOREIGN KEY ("shot") REFERENCES "shot" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`CREATE INDEX "sound_by_project" ON "sound" ("project")`)
  }
  async down(): Promise<void> {
    throw new Error('Sounds can not be taken back; restore a copy of the data folder instead.')
  }
}

/** Clean plates of shots. */
class CleanPlates1764900000000 implements MigrationInterface {
  name = 'CleanPlates1764900000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "plate" ("id" text PRIMARY KEY NOT NULL,
      "project" text NOT NULL,
      "shot" text NOT NULL,
      "media" text NOT NULL,
      "x" integer NOT NULL,
      "y" integer NOT NULL,
      "from" integer NOT NULL,
      "motions" text NOT NULL,
      CONSTRAINT "FK_370875de93e1003a4a30933177e" FOREIGN KEY ("project") REFERENCES "project" ("id") ON DELETE CASCADE ON UPDATE NO ACTION,
      CONSTRAINT "FK_341d0cde2fa0d43359bd09d3a28" FOREIGN KEY ("shot") REFERENCES "shot" ("id") ON DELETE CASCADE ON UPDATE NO ACTION)
    `)
    await runner.query(`CREATE INDEX "plate_by_project" ON "plate" ("project")`)
  }
  async down(): Promise<void> {
    throw new Error('Clean plates can not be taken back; restore a copy of the data folder instead.')
  }
}

/** Looks that are kept for all projects. */
class OwnLooks1765000000000 implements MigrationInterface {
  name = 'OwnLooks1765000000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`
      CREATE TABLE "own_look" ("id" text PRIMARY KEY NOT NULL,
      "name" text NOT NULL,
      "about" text NOT NULL,
      "needs" text NOT NULL,
      "cards" text NOT NULL,
      "preview" text NOT NULL,
      "kept" text NOT NULL)
    `)
  }
  async down(): Promise<void> {
    throw new Error('Looks of your own can not be taken back; restore a copy of the data folder instead.')
  }
}

/** Shots that do not run as they were filmed. */
class TimedShots1765100000000 implements MigrationInterface {
  name = 'TimedShots1765100000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "shot" ADD COLUMN "timing" text`)
  }
  async down(): Promise<void> {
    throw new Error('Times of shots can not be taken back; restore a copy of the data folder instead.')
  }
}

/** The log of changes knows what takes each back, and which undo step it belongs to. */
class History1765200000000 implements MigrationInterface {
  name = 'History1765200000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "change" ADD COLUMN "back" text`)
    await runner.query(`ALTER TABLE "change" ADD COLUMN "step" text NOT NULL DEFAULT ('')`)
    await runner.query(`ALTER TABLE "change" ADD COLUMN "way" text NOT NULL DEFAULT ('do')`)
  }
  async down(): Promise<void> {
    throw new Error('The history of projects can not be taken back; restore a copy of the data folder instead.')
  }
}

/** What covers an effect may do so on some frames only. */
class CoversOnFrames1765300000000 implements MigrationInterface {
  name = 'CoversOnFrames1765300000000'
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE "effect" ADD COLUMN "behindRange" text`)
  }
  async down(): Promise<void> {
    throw new Error('Frames of covers can not be taken back; restore a copy of the data folder instead.')
  }
}

/** In the order of their making; an array and not a pattern, because the server is bundled. */
export const migrations = [
  FirstTables1764000000000,
  TracingBench1764100000000,
  EffectsOnShapes1764200000000,
  JoinedShots1764300000000,
  FollowedKeys1764400000000,
  PaintedMattes1764500000000,
  MattesApart1764600000000,
  Conversions1764700000000,
  Sounds1764800000000,
  CleanPlates1764900000000,
  OwnLooks1765000000000,
  TimedShots1765100000000,
  History1765200000000,
  CoversOnFrames1765300000000,
]
