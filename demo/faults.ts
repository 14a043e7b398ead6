const DEFECTS: Readonly<Record<string, Readonly<Record<string, readonly string[]>>>> = {
  Pontoon: {
    Lighting: ['Lamp out', 'Flickering', 'Hangs loose', 'On by day'],
    Decking: ['Board loose', 'Board broken', 'Slippery', 'Nail stands out', 'Bolt missing'],
    Float: ['Takes water', 'Lies low', 'Grown over', 'Knocks'],
    Cleat: ['Loose', 'Bent', 'Missing', 'Sharp edge'],
    'Power post': ['No power', 'Trips', 'Socket broken', 'Meter stuck', 'Cover open'],
    Water: ['No water', 'Leaks', 'Tap stuck', 'Hose missing', 'Frozen'],
    Ladder: ['Rung missing', 'Loose', 'Grown over'],
    Gangway: ['Roller stuck', 'Handrail loose', 'Too steep at low water', 'Gate stuck'],
  },
  Shore: {
    Lighting: ['Bulb broken', 'Timer wrong', 'Post leans', 'Cable bare'],
    Gate: ['Lock stuck', 'Card reader dead', 'Does not close', 'Hinge broken'],
    Showers: ['Cold', 'Drain blocked', 'Door lock broken', 'Light out', 'Leaks'],
    Toilets: ['Blocked', 'No paper', 'Tap drips', 'Lock broken'],
    'Waste station': ['Full', 'Pump dead', 'Hose split', 'Lid broken'],
    'Car park': ['Pothole', 'Barrier stuck', 'Sign missing'],
    Crane: ['Strap worn', 'Does not lift', 'Remote dead', 'Oil on the ground'],
  },
  Water: {
    Buoy: ['Adrift', 'Light out', 'Grown over', 'Missing', 'Off its place'],
    Channel: ['Silted', 'Wreck', 'Net in the way', 'Floating timber'],
    Mooring: ['Chain worn', 'Pick-up line gone', 'Buoy sunk'],
    'Slipway rails': ['Bent', 'Covered in weed', 'Blocked'],
  },
  Office: {
    Radio: ['No answer', 'Noise', 'Wrong channel given'],
    Notice: ['Out of date', 'Cannot be read', 'Missing'],
    Cards: ['Does not open the gate', 'Demagnetised', 'Lost'],
  },
  Safety: {
    Lifebuoy: ['Missing', 'Line cut', 'Holder broken'],
    Extinguisher: ['Used', 'Out of date', 'Missing', 'Seal broken'],
    'First aid': ['Box empty', 'Box missing'],
    Alarm: ['Does not sound', 'Sounds without cause'],
  },
};

/** The allowed combinations of the option list Faults. *Lighting* stands under both Pontoon and Shore. */
export const FAULTS = Object.entries(DEFECTS).flatMap(([system, parts]) =>
  Object.entries(parts).flatMap(([part, defects]) => defects.map((defect) => ({ system, part, defect }))),
);
