import type { QueryInterface } from 'sequelize';

/** A licensed pair is planned by a licence that is chosen; a licence has a first day, and places that send low and high. Pairs of before get the one that they went by. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE place ADD UNIQUE (id, job_id);
    ALTER TABLE licence ADD UNIQUE (id, job_id),
      ADD valid_from date CHECK (valid_from <= valid_until),
      ADD low_place_id uuid, ADD high_place_id uuid,
      ADD CHECK (low_place_id <> high_place_id),
      ADD CONSTRAINT licence_low_place FOREIGN KEY (low_place_id, job_id) REFERENCES place (id, job_id) DEFERRABLE,
      ADD CONSTRAINT licence_high_place FOREIGN KEY (high_place_id, job_id) REFERENCES place (id, job_id) DEFERRABLE;
    ALTER TABLE air ADD licence_id uuid CHECK (licence_id IS NULL OR kind = 'duplex'),
      ADD CONSTRAINT air_licence FOREIGN KEY (licence_id, job_id) REFERENCES licence (id, job_id) ON DELETE SET NULL (licence_id);
    CREATE INDEX licence_of_low_place ON licence (low_place_id, job_id);
    CREATE INDEX licence_of_high_place ON licence (high_place_id, job_id);
    CREATE INDEX air_of_licence ON air (licence_id, job_id);
    CREATE FUNCTION covering_licence(job uuid, centre double precision, return double precision, width double precision) RETURNS uuid LANGUAGE sql AS $$
      SELECT l.id FROM licence l WHERE l.job_id = job AND width <= l.width_mhz + 1e-9
        AND abs(least(l.centre_mhz, l.return_mhz) - least(centre, return)) < 1e-4
        AND abs(greatest(l.centre_mhz, l.return_mhz) - greatest(centre, return)) < 1e-4
      ORDER BY l.valid_until DESC LIMIT 1 $$;
    UPDATE air SET licence_id = covering_licence(job_id, centre_mhz, return_mhz, width_mhz) WHERE kind = 'duplex';
    UPDATE removal SET rows = jsonb_set(rows, '{air}', (
        SELECT jsonb_agg(CASE WHEN a ->> 'kind' = 'duplex' THEN a || jsonb_build_object('licence_id',
          covering_licence(removal.job_id, (a ->> 'centre_mhz')::float8, (a ->> 'return_mhz')::float8, (a ->> 'width_mhz')::float8)) ELSE a END)
        FROM jsonb_array_elements(rows -> 'air') a))
      WHERE rows @? '$.air[*] ? (@.kind == "duplex")';
    DROP FUNCTION covering_licence;
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE air DROP licence_id;
    ALTER TABLE licence DROP valid_from, DROP low_place_id, DROP high_place_id, DROP CONSTRAINT licence_id_job_id_key;
    ALTER TABLE place DROP CONSTRAINT place_id_job_id_key;
  `);
}
