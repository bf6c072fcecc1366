/** What Whimbrel Index knows: works of the island's world, a line each. All made up. */

export interface WorkTrack {
  title: string;
  version: string | null;
  artists: string[];
}
export interface Work {
  artist: string;
  album: string;
  year: number;
  label: string;
  country: string;
  format: string;
  genre: string;
  subGenres: string[];
  tracks: WorkTrack[];
  credits: { name: string; role: string }[];
}

/**
 * artist | album | year | label | country | format | genre: sub-genres | tracks: "title (version) @other artist, other
 * artist"; …
 * An artist "Various" has tracks with artists of their own.
 */
const ROWS = `
Odette Kassar | Slack Water EP | 2021 | Fathom & Lead | IS | file | Electronic: Deep House | Slack Water (Boathouse Mix); Slack Water; Slack Water (Dub); Ebb Line
Keel Nine | Oilskin EP | 2019 | Outer Hebble | GB | 12-inch | Electronic: House | Oilskin Lamps (Extended); Oilskin Lamps; Wick
Marrow & Pine | Kitchen Table | 2016 | Ladle | GB | file | Electronic: Nu Disco | Tin Ladle; Table Leaf; Scullery Light
Keel Nine | Gravel Road | 2022 | Outer Hebble | GB | file | Electronic: House | Gravel Road (VIP); Gravel Road
Brine Choir | Rope | 2014 | Low Lamp | NO | file | Electronic: Downtempo | Half a Mile of Rope @Brine Choir, Vesna Rook; Half a Mile of Rope (Dub) @Brine Choir, Vesna Rook; Splice
Low Tide Assembly | Beacon Pan | 2022 | Groyne Records | NL | 12-inch | Electronic: Tech House | Beacon Pan (Club Edit); Beacon Pan
Vesna Rook | Ferry Clerk | 2020 | Low Lamp | HR | file | Electronic: Indie Dance | Ferry Clerk; Ferry Clerk (Radio Edit); Ferry Clerk (Instrumental)
Odette Kassar | Long Way to Skerry | 2018 | Fathom & Lead | IS | file | Electronic: Deep House | Long Way to Skerry; Pale Buoy
Keel Nine | Salt | 2023 | Outer Hebble | GB | 12-inch | Electronic: Breakbeat | Brine Over; Salt on the Fader
Pell & Harrow | Groyne | 2017 | Groyne Records | NL | file | Electronic: Electro | Neon Groyne (Night Mix); Neon Groyne
Net Loft Seven | Live at the Net Loft | 1998 | Harbour Hall | GB | CD | Soul: Live Soul | Lee Side of the Pier (Live); Coal Boat (Live); Nine Steps Down (Live); Slow Lamps on the Slip (Live); Encore for the Slip (Live)
Low Tide Assembly | Bladderwrack Cuts | 2022 | Groyne Records | NL | file | Electronic: Techno | Bladderwrack Cuts; Bladderwrack Cuts (Instrumental)
Marrow & Pine | Dry Dock | 2015 | Ladle | GB | 12-inch | Electronic: Minimal | Dry Dock; Keel Block
Brine Choir | Harbour Wall | 2012 | Low Lamp | NO | CD | Ambient: Field Ambient | First Bell Ashore, Harbour Wall; Low Cloud; Foghorn Study; Evening Bell, Harbour Wall
Pell & Harrow | Tin Shed Rain | 2020 | Groyne Records | NL | file | Electronic: House | Tin Shed Rain (Extended); Tin Shed Rain
Keel Nine | Tollgate | 2018 | Outer Hebble | GB | 12-inch | Electronic: UK Garage | Tollgate; Tollgate (Dub)
Vesna Rook | Lamp Room | 2021 | Low Lamp | HR | file | Electronic: House | Lamp Room; Stairwell
Odette Kassar | Eel Grass | 2020 | Fathom & Lead | IS | file | Electronic: Deep House | Eel Grass
Low Tide Assembly | Groyne Nine | 2023 | Groyne Records | NL | file | Electronic: Tech House | Groyne Nine
Keel Nine | Parallel Rule | 2024 | Outer Hebble | GB | file | Electronic: House | Parallel Rule; Parallel Rule (Dub)
Lorne & Daughter | Peat Smoke | 2018 | Turf Cutter | IE | file | Electronic: Nu Disco, House | Signal Box; Peat Smoke
Odette Kassar | Pilot Boat | 2017 | Fathom & Lead | IS | file | Electronic: House | Pilot Boat
Marrow & Pine | Dragline | 2021 | Ladle | GB | 12-inch | Electronic: Techno | Dragline; Dragline (Club Mix)
Low Tide Assembly | Soundings | 2024 | Groyne Records | NL | file | Electronic: Techno | Sounding Line; Echo Sounder; Lead and Line
Pell & Harrow | Ballast | 2019 | Groyne Records | NL | file | Electronic: Techno | Ballast
Hal Sorrow | Fathoms | 2023 | Kelp & Cinder | GB | file | Electronic: Drum & Bass | Fathom Five; Kelp Line; Leadsman
Hal Sorrow | Skimmer | 2024 | Kelp & Cinder | GB | file | Electronic: Drum & Bass | Skimmer; Skimmer (VIP)
Iri Vane | Night Ferry | 2020 | Kelp & Cinder | EE | file | Electronic: Drum & Bass | Night Ferry; Wrack Line (Early Version)
Iri Vane | Wrack Line | 2021 | Kelp & Cinder | EE | file | Electronic: Drum & Bass | Wrack Line
Ines Tarn | Steps | 2017 | Upper Slip | GB | CD | Hip-Hop: Boom Bap | Post Office Steps; Bus to the Upper Slip; Chip Paper (Instrumental); Ring Road Rain
Odd Harbour | Gull Theory | 2019 | Upper Slip | GB | file | Hip-Hop: Boom Bap | Gull Theory
The Copper Gate | Varnish | 1979 | Boathouse | GB | 12-inch | Disco: Boogie | Saturday Varnish; Mirror on the Quay; Silver Rail; Last Dance, Low Water
Nadir Quay | Two Gulls | 2020 | Outer Hebble | GB | file | Electronic: UK Garage | Two Gulls; Wet Slipway
Nadir Quay | Quay Lamps | 2022 | Outer Hebble | GB | file | Electronic: UK Garage | Quay Lamps
Sol Marisma | Bajamar Lenta | 2021 | Sal Gruesa | ES | file | Latin: Dembow | Bajamar Lenta; Corazón de Sal; Niña del Muelle; Pleamar
Keel Nine | Locker | 2018 | Outer Hebble | GB | file | Electronic: Breakbeat | Chain Locker
Pell & Harrow | Shingle | 2016 | Groyne Records | NL | 12-inch | Electronic: Breakbeat, Electro | Shingle; Relay
Iri Vane | Switchgear | 2023 | Kelp & Cinder | EE | file | Electronic: Electro | Switchgear
Ada Thole | Lamp Oil Hours | 2011 | Harbour Hall | GB | CD | Folk: Singer-Songwriter | Letter from the Lighthouse; Winter Coat; The Kettle and the Rain; Lamp Oil Hours
Mabel Orr | Three Hulls | 2009 | Harbour Hall | IE | CD | Folk: Sea Folk | Waltz for the Slip; Three Hulls; The Net Mender
Vesna Rook | Company Kept | 2022 | Low Lamp | HR | file | Electronic: House, Electro | Company One @Vesna Rook, Hal Sorrow; Company Two @Vesna Rook, Ines Tarn; Company Three @Vesna Rook, Iri Vane; Company Four @Vesna Rook, Ada Thole
The Boatyard Tapes | The Boatyard Tapes | 2003 | Slip & Cradle | GB | CD | Dub: Heavy Dub | The Boatyard Tapes; Rust and Oil; Plank by Plank
Various | Slipway Nights Vol. 1 | 2023 | Boathouse | GB | file | Electronic: Deep House, Techno | Night Tide @Odette Kassar; Cable Bay @Low Tide Assembly; Moorings @Nadir Quay; Swell Tally @Marrow & Pine; Oilskin Lamps (Extended) @Keel Nine
Odd Harbour | Tar Barrel | 2006 | Upper Slip | GB | CD | Soul: Northern Soul | Tar Barrel; Sunday Chandlery
The Copper Gate | Glass Float | 1996 | Boathouse | GB | 12-inch | Electronic: House | Glass Float
Hal Sorrow | Halyard | 2015 | Kelp & Cinder | GB | 12-inch | Electronic: Breakbeat | Halyard
Keel Nine | Rope Walk | 2022 | Outer Hebble | GB | file | Electronic: Deep House | Rope Walk (Late Mix); Rope Walk
Iri Vane | Grey Harbour | 2024 | Kelp & Cinder | EE | file | Electronic: House | Grey Harbour
The Brine Chorus | Harbour Walls | 2016 | Ten Bells | US | CD | Ambient: Choral | First Bell Ashore; Low Clouds; Foghorn Studies; Tide Bell
Keel Niner | Oilskins | 2008 | Ten Bells | US | CD | Rock: Indie Rock | Oilskin Lamp; Oilskins; Wicker
Vesna Rooks | The Ferry Clerk | 1994 | Ten Bells | US | CD | Folk: Ballads | The Ferry Clerk; Toll for the Boat
Pilot Boats | Long Way to Skerry Light | 2001 | Ten Bells | US | CD | Folk: Ballads | The Long Way to Skerry; Beacon Pan
Wen Halloran | Causeway Hours | 2010 | Harbour Hall | IE | CD | Folk: Sea Folk | Causeway; Hour of the Wader; Oyster Knife
Fennick & the Tar | Pitch | 2013 | Slip & Cradle | GB | 12-inch | Dub: Heavy Dub | Pitch; Pitch (Version); Caulking Iron
`;

/** "Half a Mile (Dub) @A, B" */
function trackOf(text: string, artist: string): WorkTrack {
  const [name, others] = text.split('@').map((t) => t.trim());
  const found = /^(.+?)\s*\(([^()]+)\)$/u.exec(name!);
  return {
    title: found ? found[1]! : name!,
    version: found ? found[2]! : null,
    artists: others ? others.split(',').map((a) => a.trim()) : [artist],
  };
}

export const WORKS: Work[] = ROWS.trim()
  .split('\n')
  .map((row) => {
    const [artist, album, year, label, country, format, genres, tracks] = row
      .split(' | ')
      .map((cell) => cell.trim()) as [string, string, string, string, string, string, string, string];
    const [genre, subs = ''] = genres.split(':');
    return {
      artist,
      album,
      year: Number(year),
      label,
      country,
      format,
      genre: genre!.trim(),
      subGenres: subs
        .split(',')
        .map((s) => s.trim())
        .filter(Boolean),
      tracks: tracks.split(';').map((t) => trackOf(t.trim(), artist)),
      credits: [
        { name: `${label} house`, role: 'mastering' },
        ...(format === '12-inch' ? [{ name: 'Lathe at the Net Loft', role: 'cut' }] : []),
      ],
    };
  });
