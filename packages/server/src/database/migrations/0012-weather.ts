import type { QueryInterface } from 'sequelize';

/** What a level depends on besides power and gain: the weather of the job, cables, an aim that may be off, others on the air; and the margin that is asked of a link. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE job
      -- none: guessed from the latitude
      ADD climate_class text CHECK (climate_class IN ('polar', 'cold', 'desert', 'mild', 'continental', 'subtropical', 'tropical', 'monsoon')),
      -- none: that of the class
      ADD rain_mm_per_h double precision CHECK (rain_mm_per_h BETWEEN 0 AND 400);
    ALTER TABLE radio
      ADD cable jsonb CHECK (cable IS NULL OR jsonb_typeof(cable) = 'object'),
      ADD aim_off_deg double precision NOT NULL DEFAULT 0 CHECK (aim_off_deg BETWEEN 0 AND 45),
      ADD interference_db double precision NOT NULL DEFAULT 0 CHECK (interference_db BETWEEN 0 AND 60);
    ALTER TABLE link
      ADD wanted_margin_db double precision NOT NULL DEFAULT 10 CHECK (wanted_margin_db BETWEEN 0 AND 60);

    -- What was removed comes back as it was, with what it did not have yet as it is for all others.
    UPDATE removal SET rows = rows
      || jsonb_build_object('radio', (SELECT coalesce(jsonb_agg('{"cable": null, "aim_off_deg": 0, "interference_db": 0}' || r), '[]')
           FROM jsonb_array_elements(rows -> 'radio') r))
      || jsonb_build_object('link', (SELECT coalesce(jsonb_agg('{"wanted_margin_db": 10}' || l), '[]')
           FROM jsonb_array_elements(rows -> 'link') l))
    WHERE jsonb_typeof(rows -> 'radio') = 'array' AND jsonb_typeof(rows -> 'link') = 'array';
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE link DROP wanted_margin_db;
    ALTER TABLE radio DROP cable, DROP aim_off_deg, DROP interference_db;
    ALTER TABLE job DROP climate_class, DROP rain_mm_per_h;
  `);
}
