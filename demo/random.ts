import { faker } from '@faker-js/faker';

/** Everything that the sample cabinet invents comes from this one seed. */
faker.seed(20_250_401);

export const pick = <T>(all: readonly T[]): T => faker.helpers.arrayElement([...all]);
export const between = (least: number, most: number): number => faker.number.int({ min: least, max: most });
export const decimal = (least: number, most: number, places = 1): number =>
  Number(faker.number.float({ min: least, max: most }).toFixed(places));
export const chance = (probability: number): boolean => faker.number.float() < probability;

export const person = (): string => `${faker.person.firstName()} ${faker.person.lastName()}`;
export const phone = (): string => `0555 ${between(10, 99)}${between(0, 9)} ${between(100, 999)}`;
/** An address that can belong to nobody: RFC 2606 keeps `.example` for this. */
export const email = (name: string): string =>
  `${name
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z ]/g, '')
    .trim()
    .replace(/ +/g, '.')}@sound.example`;
export const address = (): string => `${between(1, 90)} ${pick(STREETS)}\n${pick(PLACES)}`;

const STREETS = [
  'Net Loft Lane',
  'Capstan Row',
  'Lantern Street',
  'Ropewalk',
  'Fulmar Close',
  'Slip Street',
  'Beacon Terrace',
  'Oar Lane',
];
const PLACES = ['Gannet Quay', 'Tern Cove', 'Skerry Haven', 'Inner Holm', 'Saltmere', 'Kelp Bay'];
const BIRDS = [
  'Kittiwake',
  'Gannet',
  'Fulmar',
  'Tystie',
  'Petrel',
  'Dunlin',
  'Turnstone',
  'Shearwater',
  'Whimbrel',
  'Puffin',
  'Eider',
  'Razorbill',
  'Curlew',
  'Plover',
  'Sanderling',
  'Merganser',
];
const THINGS = [
  'Rose',
  'Dawn',
  'Lass',
  'Star',
  'Venture',
  'Promise',
  'Harvest',
  'Spray',
  'Tide',
  'Lantern',
  'Song',
  'Fortune',
  'Drift',
  'Belle',
  'Ember',
  'Quill',
  'Heather',
  'Morning',
  'Wake',
  'Thistle',
];

/** Vessel names, no two alike. */
export const vesselNames = (): string[] =>
  faker.helpers.shuffle(BIRDS.flatMap((bird) => THINGS.map((thing) => `${bird} ${thing}`)));
export const shuffled = <T>(all: readonly T[]): T[] => faker.helpers.shuffle([...all]);
