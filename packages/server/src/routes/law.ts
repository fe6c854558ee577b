import { routes } from '@kivram/contract/routes';
import { Router } from 'express';
import type { Sequelize } from 'sequelize';
import { serve, versionOf } from '../http/serve';
import { JobLaw } from '../services/jobLaw';
import { knownLaws, lawInForce } from '../services/law';

export function lawRoutes(sequelize: Sequelize): Router {
  const router = Router();
  const law = new JobLaw(sequelize);

  serve(router, routes.listRuleSets, () => knownLaws());
  serve(router, routes.ruleSet, async ({ params }) => (await lawInForce([params.country ?? '']))[0] ?? null);
  serve(router, routes.jobLaw, ({ params }) => law.view(params.jobId ?? ''));
  serve(router, routes.createLocalRule, ({ params, body, author }) => law.createRule(params.jobId ?? '', body, author));
  serve(router, routes.changeLocalRule, ({ params, body, author }) =>
    law.changeRule(params.localRuleId ?? '', body, author),
  );
  serve(router, routes.removeLocalRule, async ({ params, query, author }) => {
    await law.removeRule(params.localRuleId ?? '', versionOf(query), author);
    return { removed: true };
  });
  serve(router, routes.createLicence, ({ params, body, author }) =>
    law.createLicence(params.jobId ?? '', body, author),
  );
  serve(router, routes.changeLicence, ({ params, body, author }) =>
    law.changeLicence(params.licenceId ?? '', body, author),
  );
  serve(router, routes.removeLicence, async ({ params, query, author }) => {
    await law.removeLicence(params.licenceId ?? '', versionOf(query), author);
    return { removed: true };
  });
  return router;
}
