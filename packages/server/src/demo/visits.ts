import { randomUUID } from 'node:crypto';
import { Op, type Sequelize } from 'sequelize';
import sharp from 'sharp';
import type { CrewMemberRow } from '../database/models/crewMember';
import { EventRow } from '../database/models/event';
import { LinkRow } from '../database/models/link';
import { scalePhoto } from '../formats/photo';
import { authorFrom } from '../http/author';
import { Visits } from '../services/visits';

const dayMs = 86_400_000;

/** Visits to the demo's sites: invented, as everything in it. */
const visits = [
  {
    daysAgo: 9,
    hours: 3,
    purpose: 'Put the ice works pair up',
    company: 'Teo Marl',
    note: 'Bracket on the east wall of the ice works, two M10 anchors. Cable down the inside of the gutter, drip loop above the gland. Landlord has the key to the roof hatch.',
    photos: [{ caption: 'Mast at the ferry office, seen from the quay', scene: 'mast' as const }],
  },
  {
    daysAgo: 2,
    hours: 1,
    purpose: 'Why does the hatchery drop?',
    company: '',
    note: 'The willows behind the slip have grown into the line since spring. Asked the co-operative whether they may be cut; if not, the far mount must go up by 4 m.',
    photos: [{ caption: 'Willows in the line, from the far end', scene: 'trees' as const }],
  },
];

/** Brings the demo's visits in with their pictures, which are drawn: nothing real is in the demo. */
export async function loadVisits(sequelize: Sequelize, member: CrewMemberRow): Promise<void> {
  const service = new Visits(sequelize);
  const { jobId } = member;
  for (const { daysAgo, hours, photos, ...words } of visits) {
    const startedAt = new Date(Date.now() - daysAgo * dayMs);
    startedAt.setHours(9, 30, 0, 0);
    const author = (id: string) => authorFrom(member, id);
    const visit = await service.create(jobId, { ...words, startedAt: startedAt.toISOString() }, author(randomUUID()));
    for (const { caption, scene } of photos) {
      const scaled = await scalePhoto(await drawn(scene));
      const about = { of: 'visit' as const, id: visit.id, caption, keepPosition: false };
      await service.addPhoto(jobId, about, scaled, author(randomUUID()));
    }
    const endedAt = new Date(startedAt.getTime() + hours * 3_600_000).toISOString();
    await service.change(visit.id, { version: visit.version, endedAt }, author(randomUUID()));
    await EventRow.update({ at: startedAt }, { where: { jobId, kind: 'visit', at: { [Op.gt]: startedAt } } });
  }
  const link = await LinkRow.findOne({ where: { jobId, name: 'Ice works' } });
  if (!link) return;
  const about = { of: 'radio' as const, id: link.farRadioId, caption: 'Drip loop and gland', keepPosition: false };
  await service.addPhoto(jobId, about, await scalePhoto(await drawn('wall')), authorFrom(member, randomUUID()));
}

const scenes = {
  mast: `<rect y="760" width="1600" height="440" fill="#6f8d97"/><rect x="240" y="560" width="700" height="260" fill="#a6978a"/><rect x="560" y="220" width="18" height="350" fill="#3c4347"/>
    <rect x="520" y="250" width="46" height="70" rx="6" fill="#e8e6df"/><ellipse cx="610" cy="330" rx="22" ry="46" fill="#dedbd2"/><path d="M569 570L480 400M569 570L660 400" stroke="#3c4347" stroke-width="3"/>`,
  trees: `<path d="M0 840Q400 760 800 820T1600 800V1200H0Z" fill="#7d8a5e"/>${[180, 420, 610, 900, 1130, 1340]
    .map(
      (x, i) =>
        `<ellipse cx="${x}" cy="${700 - 30 * (i % 3)}" rx="${120 + 14 * (i % 4)}" ry="${190 - 20 * (i % 2)}" fill="#55703d"/>`,
    )
    .join('')}<path d="M0 560L1600 500" stroke="#fff" stroke-width="4" stroke-dasharray="14 14"/>`,
  wall: `<rect width="1600" height="1200" fill="#b5a694"/>${Array.from({ length: 12 }, (_, i) => `<path d="M0 ${i * 100}H1600" stroke="#9b8c7b" stroke-width="5"/>`).join('')}
    <circle cx="980" cy="640" r="46" fill="#40474b"/><path d="M500 0V560Q500 900 740 900T980 690" fill="none" stroke="#23282b" stroke-width="26"/>`,
};

/** A picture as a camera would give it. */
function drawn(scene: keyof typeof scenes): Promise<Buffer> {
  const picture = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1600 1200"><rect width="1600" height="1200" fill="#c3d3d9"/>${scenes[scene]}</svg>`;
  return sharp(Buffer.from(picture)).jpeg({ quality: 85 }).toBuffer();
}
