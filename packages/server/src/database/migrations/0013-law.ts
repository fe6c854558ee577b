import type { QueryInterface } from 'sequelize';

/** Real laws: where a country's rules come from, what stands in for them in one job, and licences for pairs of frequencies. */
export async function up(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    ALTER TABLE rule_set ADD source text;

    CREATE TABLE local_rule (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      lowest_mhz double precision NOT NULL CHECK (lowest_mhz > 0),
      highest_mhz double precision NOT NULL CHECK (highest_mhz > lowest_mhz),
      most_eirp_dbm double precision NOT NULL CHECK (most_eirp_dbm BETWEEN -20 AND 100),
      most_width_mhz double precision CHECK (most_width_mhz > 0),
      radar boolean NOT NULL,
      -- what a rule of one's own is founded on stays on record
      reason text NOT NULL CHECK (length(reason) BETWEEN 10 AND 500),
      version integer NOT NULL DEFAULT 0
    );
    CREATE INDEX local_rule_of_job ON local_rule (job_id);

    CREATE TABLE licence (
      id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
      job_id uuid NOT NULL REFERENCES job ON DELETE CASCADE,
      number text NOT NULL CHECK (length(number) BETWEEN 1 AND 60),
      holder text NOT NULL CHECK (length(holder) <= 120),
      centre_mhz double precision NOT NULL CHECK (centre_mhz BETWEEN 100 AND 100000),
      return_mhz double precision NOT NULL CHECK (return_mhz BETWEEN 100 AND 100000),
      width_mhz double precision NOT NULL CHECK (width_mhz > 0),
      occupied_mhz double precision CHECK (occupied_mhz > 0 AND occupied_mhz <= width_mhz),
      most_eirp_dbm double precision NOT NULL CHECK (most_eirp_dbm BETWEEN -20 AND 100),
      modulation text,
      valid_until date NOT NULL,
      terms text NOT NULL CHECK (length(terms) <= 2000),
      version integer NOT NULL DEFAULT 0,
      CHECK (abs(centre_mhz - return_mhz) >= width_mhz)
    );
    CREATE UNIQUE INDEX licence_number ON licence (job_id, lower(number));
  `);
}

export async function down(queryInterface: QueryInterface): Promise<void> {
  await queryInterface.sequelize.query(`
    DROP TABLE licence;
    DROP TABLE local_rule;
    ALTER TABLE rule_set DROP source;
  `);
}
