import { isWithin, subnetOf, type SiteSubnet } from '../addressing/network';
import { addressKind, addressValue, isAddress, maskText } from '../addressing/subnet';
import { sendingChannel, spectrumUse, type Air, type AirRole } from '../air/air';
import { ends, otherEnd, type End } from '../budget/plan';
import { protocolWords } from '../radio/kinds';
import { feederLossDb, type Feeder } from '../gear/cable';
import type { Model } from '../gear/model';
import { sameDb } from '../units/tolerance';
import { askLaw, refusalWords } from '../spectrum/lawAnswer';
import type { Licence } from '../spectrum/licence';
import type { Channel } from '../spectrum/channel';
import { lawOf, type RuleSet } from '../spectrum/ruleSet';
import type { Finding, Pair } from './pair';
import { sheetRole } from './proposal';
import { roleWords, type Sheet } from './sheet';

/** What the site already has, as far as it is known. */
export interface Site {
  subnets: readonly SiteSubnet[];
  /** who has which address: devices, and the other radios of the job by their settings */
  taken: readonly { address: string; name: string }[];
}

/** What the plan says of a link's radios. */
export interface SheetPlan {
  air: Air;
  country: string;
  /** that a licensed pair is planned by */
  licence: Licence | null;
  /** on which licences are looked at, as in 2026-01-31 */
  day: string;
  /** not in a shaft */
  outdoor: boolean;
  near: PlannedEnd;
  far: PlannedEnd;
}

type PlannedEnd = { role: AirRole; conductedDbm: number } & Feeder;

/** One end's sheet, looked at where it is going to stand. */
interface Standing {
  end: End;
  sheet: Sheet;
  /** what it radiates by its sheet, what the law allows on that channel, and why nothing; undefined while no channel is set, and where nothing is known */
  eirpDbm: number | undefined;
  limitDbm: number | undefined;
  refusal: string | undefined;
  model: Model;
  site: Site;
  plan: SheetPlan;
}

interface SiteCause {
  cause: string;
  severity: Finding['severity'];
  find(standing: Standing): SiteFault | undefined;
}
type SiteFault = Pick<Finding, 'field' | 'reason' | 'repair'>;

const freeAddress = 'Take a free address of the site, outside the DHCP range.';

/** Addresses that no device of a network can have: RFC 1122 section 3.2.1.3, RFC 5771 (multicast), RFC 3927 (link-local). */
const unusable: Partial<Record<ReturnType<typeof addressKind>, string>> = {
  unspecified: 'belongs to nobody: it stands for "no address"',
  broadcast: 'is the broadcast address of every network',
  multicast: 'is a multicast address: it names groups, not devices',
  loopback: 'is a loopback address: every device means itself by it',
  linkLocal: 'is what a device gives itself when nobody has given it an address',
  reserved: 'is reserved and belongs to no device',
};

const siteCauses: readonly SiteCause[] = [
  {
    cause: 'addressOfNobody',
    severity: 'forbids',
    find: ({ sheet }) => {
      const why = isAddress(sheet.address) && unusable[addressKind(sheet.address)];
      return why ? { field: 'address', reason: `${sheet.address} ${why}.`, repair: freeAddress } : undefined;
    },
  },
  {
    cause: 'addressOfRouter',
    severity: 'forbids',
    find: ({ sheet, site }) =>
      sheet.address === sheet.gateway || isRouter(sheet.address, site)
        ? { field: 'address', reason: `${sheet.address} is the router's own address.`, repair: freeAddress }
        : undefined,
  },
  {
    cause: 'addressTaken',
    severity: 'forbids',
    find: ({ sheet, site }) => {
      const owner = site.taken.find((t) => t.address === sheet.address && !isRouter(t.address, site));
      return owner
        ? { field: 'address', reason: `${sheet.address} is taken by ${owner.name}.`, repair: freeAddress }
        : undefined;
    },
  },
  {
    cause: 'addressOfDhcp',
    severity: 'forbids',
    find: ({ sheet, site: { subnets } }) => {
      const subnet = subnetOf(subnets, sheet.address);
      const range = subnet?.dhcp.find((r) => isWithin(addressValue(sheet.address), r));
      return range
        ? {
            field: 'address',
            reason: `${sheet.address} lies in the DHCP range, ${range.first} to ${range.last}: the router may give it to another device.`,
            repair: freeAddress,
          }
        : undefined;
    },
  },
  {
    cause: 'addressOutsideSite',
    severity: 'warns',
    find: ({ sheet, site: { subnets } }) =>
      subnets.length && isAddress(sheet.address) && !subnetOf(subnets, sheet.address)
        ? {
            field: 'address',
            reason: `${sheet.address} lies outside ${listText(subnets)}: from the site it cannot be reached.`,
            repair: 'Use a subnet of the site, unless the radios have a network of their own.',
          }
        : undefined,
  },
  {
    cause: 'maskOfSite',
    severity: 'warns',
    find: ({ sheet, site: { subnets } }) => {
      const subnet = subnetOf(subnets, sheet.address);
      return subnet && sheet.prefix !== subnet.prefix
        ? {
            field: 'prefix',
            reason: `The mask is ${maskText(sheet.prefix)}, the site's is ${maskText(subnet.prefix)}: some devices will not be reached.`,
            repair: "Use the site's mask.",
          }
        : undefined;
    },
  },
  {
    cause: 'countryOfJob',
    severity: 'forbids',
    find: ({ sheet, plan }) =>
      sheet.country !== plan.country
        ? {
            field: 'country',
            reason: `The radio is told that it stands in ${sheet.country}; the job is in ${plan.country}.`,
            repair: 'Set the country it truly stands in: the law of that country holds.',
          }
        : undefined,
  },
  {
    // The radios would pair; nobody may let them.
    cause: 'channelOverLaw',
    severity: 'forbids',
    find: ({ sheet, refusal }) =>
      refusal
        ? {
            field: sheet.band === 'licensed' ? 'txMHz' : 'centreMHz',
            reason: `Nobody may send here: ${refusal}.`,
            repair: 'Choose a channel that the law, or the licence, allows for this.',
          }
        : undefined,
  },
  {
    cause: 'powerOverLaw',
    severity: 'forbids',
    find: ({ sheet, model, eirpDbm, limitDbm }) => {
      if (eirpDbm === undefined || limitDbm === undefined || eirpDbm <= limitDbm + sameDb) return undefined;
      const whose = model.band === 'licensed' ? 'the licence allows' : `${sheet.country} allows here`;
      return {
        field: 'conductedDbm',
        reason: `Power and antenna together send ${eirpDbm.toFixed(1)} dBm EIRP, ${(eirpDbm - limitDbm).toFixed(1)} dB more than ${whose}.`,
        repair: 'Turn the power down. The law of the country, and the licence, come first.',
      };
    },
  },
  {
    cause: 'roleOfPlan',
    severity: 'warns',
    find: ({ sheet, plan, end }) => {
      const planned = sheetRole(plan.air, plan[end].role);
      return sheet.role !== planned
        ? {
            field: 'role',
            reason: `The plan has a${planned === 'ap' ? 'n' : ''} ${roleWords[planned]} here, the settings say ${roleWords[sheet.role]}.`,
            repair: 'Set the role of the plan, or change the plan.',
          }
        : undefined;
    },
  },
  {
    cause: 'channelOfPlan',
    severity: 'warns',
    find: ({ sheet, plan, end }) => {
      const { air } = plan;
      const licensed = sheet.band === 'licensed';
      const planned = licensed ? sendingChannel(air, plan[end].role).centreMHz : air.centreMHz;
      const set = licensed ? sheet.txMHz : sheet.centreMHz;
      if ((sheet.role === 'station' && !licensed) || set === planned) return undefined;
      return {
        field: licensed ? 'txMHz' : 'centreMHz',
        reason: `The plan is on ${planned} MHz, the settings ${set === null ? 'name no channel' : `on ${set} MHz`}: prediction and law were looked at for the plan.`,
        repair: 'Set the channel of the plan, or change the plan.',
      };
    },
  },
  {
    cause: 'widthOfPlan',
    severity: 'warns',
    find: ({ sheet, plan: { air } }) =>
      sheet.widthMHz !== air.widthMHz && !(sheet.role === 'station' && sheet.followsWidth)
        ? {
            field: 'widthMHz',
            reason: `The plan is ${air.widthMHz} MHz wide, the settings ${sheet.widthMHz} MHz: speed and noise were computed for the plan.`,
            repair: 'Set the width of the plan, or change the plan.',
          }
        : undefined,
  },
  {
    cause: 'protocolOfPlan',
    severity: 'warns',
    find: ({ sheet, plan: { air } }) =>
      sheet.protocol !== air.protocol
        ? {
            field: 'protocol',
            reason: `The plan speaks ${protocolWords[air.protocol]}, the settings ${protocolWords[sheet.protocol]}.`,
            repair: 'Set the protocol of the plan, or change the plan.',
          }
        : undefined,
  },
  {
    cause: 'powerOfPlan',
    severity: 'warns',
    find: ({ sheet, plan, end }) => {
      const planned = plan[end].conductedDbm;
      return sheet.conductedDbm > planned + 0.05
        ? {
            field: 'conductedDbm',
            reason: `The settings send ${sheet.conductedDbm} dBm, the plan ${planned} dBm: levels and overload were computed for the plan.`,
            repair: 'Set the power of the plan before it goes up; lower is right on the table.',
          }
        : undefined;
    },
  },
];

/** What a radio sends on by its sheet, a station by the other's; undefined where no frequency or no width is set. */
function sentOn(sheet: Sheet, other: Sheet): Channel | undefined {
  const follows = sheet.band !== 'licensed' && sheet.role === 'station';
  const { centreMHz } = follows ? other : sheet;
  const channel = {
    centreMHz: sheet.band === 'licensed' ? sheet.txMHz : centreMHz,
    widthMHz: follows && sheet.followsWidth ? other.widthMHz : sheet.widthMHz,
  };
  return isChannel(channel) ? channel : undefined;
}

/** What is being typed may be no number yet. */
function isChannel(channel: { centreMHz: number | null; widthMHz: number | null }): channel is Channel {
  return Object.values(channel).every((value) => typeof value === 'number' && isFinite(value) && value > 0);
}

/** What an end radiates by its sheet, and what the law says of it. */
function lawful(
  end: End,
  radios: Record<End, Pick<Pair['near'], 'sheet' | 'model'>>,
  law: readonly RuleSet[],
  { air, outdoor, licence, day, ...plan }: SheetPlan,
): Pick<Standing, 'eirpDbm' | 'limitDbm' | 'refusal'> {
  const { sheet, model } = radios[end];
  const channel = sentOn(sheet, radios[otherEnd(end)].sheet);
  if (!channel) return { eirpDbm: undefined, limitDbm: undefined, refusal: undefined };
  const eirpDbm = sheet.conductedDbm - feederLossDb(plan[end], channel.centreMHz) + model.antennaGainDbi;
  const right = { law: lawOf(law, sheet.country), isLicensed: sheet.band === 'licensed', licence, day };
  const use = spectrumUse(air, outdoor);
  const { allowance, isForbidden } = askLaw(right, channel, use, model.antennaGainDbi, eirpDbm);
  return {
    eirpDbm,
    limitDbm: allowance?.mostEirpDbm,
    refusal: isForbidden ? refusalWords(right, channel, use, model.antennaGainDbi) : undefined,
  };
}

function isRouter(address: string, { subnets }: Site): boolean {
  return subnets.some((subnet) => subnet.gateway === address);
}

/** "the site's subnet 10.1.2.0/24", or all of them. */
function listText(subnets: readonly SiteSubnet[]): string {
  const names = subnets.map(({ address, prefix }) => `${address}/${prefix}`);
  return names.length === 1 ? `the site's subnet ${names[0] ?? ''}` : `the site's subnets ${names.join(', ')}`;
}

/** What is wrong with two sheets where they are going to stand: the site's addresses, the plan and the country. They may pair for all that. */
export function checkSite({ near, far, law }: Pair, site: Site, plan: SheetPlan): Finding[] {
  const radios = { near, far };
  return siteCauses.flatMap(({ cause, severity, find }) => {
    const faults = ends.map((end) => {
      const { sheet, model } = radios[end];
      return find({ end, sheet, model, site, plan, ...lawful(end, radios, law, plan) });
    });
    const [first] = faults.filter((fault) => fault !== undefined);
    if (!first) return [];
    const reasons = [...new Set(faults.flatMap((fault) => fault?.reason ?? []))];
    const value = (end: End): string =>
      faults[end === 'near' ? 0 : 1] ? valueText(first.field, radios[end].sheet[first.field]) : '';
    return [
      {
        cause,
        severity,
        field: first.field,
        nearValue: value('near'),
        farValue: value('far'),
        reason: reasons.join(' '),
        repair: first.repair,
      },
    ];
  });
}

/** A setting as people write it, with its unit. */
function valueText(field: keyof Sheet, value: unknown): string {
  const text = String(value ?? 'none');
  if (field === 'role') return roleWords[value as Sheet['role']];
  if (field === 'protocol') return protocolWords[value as Sheet['protocol']];
  if (field === 'prefix') return `/${text}`;
  return text + (units[field] ?? '');
}

const units: Partial<Record<keyof Sheet, string>> = {
  conductedDbm: ' dBm',
  centreMHz: ' MHz',
  widthMHz: ' MHz',
  txMHz: ' MHz',
};
