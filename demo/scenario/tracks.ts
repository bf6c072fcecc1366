/** The island's music: who made what, in which style, and in which mess of folders it lies. */
import type { StyleName } from '../synth/styles.ts';

export type Format = 'mp3' | 'mp3-128' | 'mp3-vbr' | 'flac' | 'ogg' | 'opus' | 'm4a' | 'wav' | 'aiff';

/** How the tags of a file differ from what is true. */
export type TagHabit =
  | 'full'
  | 'none'
  | 'promo'
  | 'upper'
  | 'underscores'
  | 'artist-in-title'
  | 'no-genre'
  | 'wrong-year'
  | 'version-in-title'
  | 'guest-in-title'
  | 'latin1'
  | 'number-in-title';

export interface TrackSpec {
  artist: string;
  title: string;
  version: string;
  album: string;
  genre: string;
  year: number;
  style: StyleName;
  bpm: number;
  format: Format;
  folder: string;
  /** File name without ending; empty: made from artist and title. */
  name: string;
  tags: TagHabit;
}

/** artist | title | version | album | genre | year | style | bpm | format | folder | file name | tags */
const ROWS = `
Odette Kassar | Slack Water | Boathouse Mix | Slack Water EP | Deep House | 2021 | deepHouse | 121 | flac | Crates/House | | full
Keel Nine | Oilskin Lamps | Extended | Oilskin EP | House | 2019 | house | 122.5 | mp3 | Crates/House | | wrong-year
Marrow & Pine | Tin Ladle | | Kitchen Table | Nu Disco | 2016 | disco | 118.02 | mp3 | Crates/House | | full
Keel Nine | Gravel Road | VIP | | House | 2022 | house | 125.4 | mp3-vbr | Inbox | gravel_road (vip) | none
Brine Choir; Vesna Rook | Half a Mile of Rope | Dub | Rope | Downtempo | 2014 | dub | 96.1 | ogg | Crates/Slow | | guest-in-title
Low Tide Assembly | Beacon Pan | Club Edit | Beacon Pan | Tech House | 2022 | house | 126 | mp3 | Inbox | beacon pan | version-in-title
Vesna Rook | Ferry Clerk | Radio Edit | Ferry Clerk | Indie Dance | 2020 | disco | 119.98 | m4a | Radio/Playlist | | full
Odette Kassar | Long Way to Skerry | | Long Way to Skerry | Deep House | 2018 | deepHouse | 120 | mp3 | Crates/House | | full
Keel Nine | Salt on the Fader | | Salt | Breakbeat | 2023 | breakbeat | 134.2 | wav | Rips/Salt | A2 salt on the fader | none
Pell & Harrow | Neon Groyne | Night Mix | Groyne | Electro | 2017 | electro | 128 | mp3 | Inbox | neon_groyne_night_mix | underscores
Net Loft Seven | Lee Side of the Pier | Live | Live at the Net Loft | Soul | 1998 | soul | 103.6 | flac | Albums/Net Loft Seven - Live at the Net Loft | 01 Lee Side of the Pier | full
Net Loft Seven | Coal Boat | Live | Live at the Net Loft | Soul | 1998 | soul | 98.4 | flac | Albums/Net Loft Seven - Live at the Net Loft | 02 Coal Boat | full
Net Loft Seven | Nine Steps Down | Live | Live at the Net Loft | Soul | 1998 | soul | 109.3 | flac | Albums/Net Loft Seven - Live at the Net Loft | 03 Nine Steps Down | full
Net Loft Seven | Slow Lamps on the Slip | Live | Live at the Net Loft | Soul | 1998 | ballad | 71.8 | flac | Albums/Net Loft Seven - Live at the Net Loft | 04 Slow Lamps on the Slip | full
Low Tide Assembly | Bladderwrack Cuts | Instrumental | Bladderwrack Cuts | Techno | 2022 | techno | 132 | mp3 | Inbox | 03_low_tide_assembly-bladderwrack cuts_(instrumental)_promo | promo
Marrow & Pine | Dry Dock | | Dry Dock | Minimal | 2015 | techno | 124 | mp3-vbr | Inbox | 07 dry dock | promo
Brine Choir | First Bell Ashore, Harbour Wall | | Harbour Wall | Ambient | 2012 | ambient | 80 | flac | Rips/Harbour Wall | brine choir first bell ashore, harbour wall | upper
Pell & Harrow | Tin Shed Rain | Extended | Tin Shed Rain | House | 2020 | house | 123.47 | mp3 | Crates/House | | full
Keel Nine | Tollgate | Dub | Tollgate | UK Garage | 2018 | twoStep | 131 | mp3 | Inbox | tollgate dub | no-genre
Vesna Rook | Lamp Room | | Lamp Room | House | 2021 | house | 121.8 | m4a | Crates/House | | full
Odette Kassar | Eel Grass | | Eel Grass | Deep House | 2020 | deepHouse | 122.9 | ogg | Crates/House | | full
Low Tide Assembly | Groyne Nine | | Groyne Nine | Tech House | 2023 | house | 126.6 | opus | Crates/House | | full
Keel Nine | Parallel Rule | | Parallel Rule | House | 2024 | house | 124.31 | mp3 | Crates/House | | full
Lorne & Daughter | Signal Box | | Peat Smoke | House | 2018 | house | 119.6 | mp3 | Crates/House | | full
Odette Kassar | Pilot Boat | | Pilot Boat | House | 2017 | house | 123.1 | mp3-vbr | Crates/House | | full
Marrow & Pine | Dragline | Club Mix | Dragline | Techno | 2021 | techno | 136.5 | wav | Crates/Techno | | full
Marrow & Pine | Dragline | | Dragline | Techno | 2021 | techno | 133.4 | mp3 | Crates/Techno | | full
Low Tide Assembly | Sounding Line | | Soundings | Techno | 2024 | techno | 138.7 | flac | Crates/Techno | | full
Low Tide Assembly | Echo Sounder | | Soundings | Techno | 2024 | techno | 141 | flac | Crates/Techno | | full
Pell & Harrow | Ballast | | Ballast | Techno | 2019 | techno | 129.9 | aiff | Crates/Techno | | full
Hal Sorrow | Fathom Five | | Fathoms | Drum & Bass | 2023 | drumAndBass | 174 | mp3 | Crates/Fast | | full
Hal Sorrow | Kelp Line | | Fathoms | Drum & Bass | 2023 | drumAndBass | 172.3 | mp3 | Crates/Fast | | full
Hal Sorrow | Skimmer | VIP | Skimmer | Drum & Bass | 2024 | drumAndBass | 175.5 | flac | Crates/Fast | | full
Iri Vane | Night Ferry | | Night Ferry | Drum & Bass | 2020 | drumAndBass | 170 | m4a | Crates/Fast | | full
Iri Vane | Wrack Line | | Wrack Line | Drum & Bass | 2021 | drumAndBass | 168.8 | opus | Crates/Fast | | full
Ines Tarn | Post Office Steps | | Steps | Hip-Hop | 2017 | hipHop | 88.5 | mp3 | Crates/Slow | | full
Ines Tarn | Bus to the Upper Slip | | Steps | Hip-Hop | 2017 | hipHop | 92.7 | mp3 | Crates/Slow | | full
Ines Tarn | Chip Paper | Instrumental | Steps | Hip-Hop | 2017 | hipHop | 84.2 | mp3-128 | Crates/Slow | | full
Odd Harbour | Gull Theory | | Gull Theory | Hip-Hop | 2019 | hipHop | 95.1 | ogg | Crates/Slow | | no-genre
The Copper Gate | Saturday Varnish | | Varnish | Disco | 1979 | disco | 116.4 | flac | Rips/Varnish | A1 saturday varnish | number-in-title
The Copper Gate | Mirror on the Quay | | Varnish | Disco | 1979 | disco | 119.2 | flac | Rips/Varnish | A2 mirror on the quay | number-in-title
The Copper Gate | Silver Rail | | Varnish | Disco | 1979 | disco | 112.6 | flac | Rips/Varnish | B1 silver rail | number-in-title
The Copper Gate | Last Dance, Low Water | | Varnish | Disco | 1979 | disco | 121.7 | flac | Rips/Varnish | B2 last dance, low water | number-in-title
Nadir Quay | Two Gulls | | Two Gulls | UK Garage | 2020 | twoStep | 132.2 | mp3 | Inbox | Nadir Quay - Two Gulls [www.free-promos.example] | promo
Nadir Quay | Wet Slipway | | Two Gulls | UK Garage | 2020 | twoStep | 133.8 | mp3 | Inbox | nadir_quay_-_wet_slipway | underscores
Nadir Quay | Quay Lamps | | Quay Lamps | UK Garage | 2022 | twoStep | 130.4 | m4a | Crates/Garage | | full
Sol Marisma | Bajamar Lenta | | Bajamar Lenta | Dembow | 2021 | dembow | 96 | mp3 | Crates/Slow | | latin1
Sol Marisma | Corazón de Sal | | Bajamar Lenta | Dembow | 2021 | dembow | 98.6 | mp3 | Crates/Slow | | latin1
Sol Marisma | Niña del Muelle | | Bajamar Lenta | Dembow | 2021 | dembow | 93.3 | mp3 | Crates/Slow | | latin1
Keel Nine | Chain Locker | | Locker | Breakbeat | 2018 | breakbeat | 129.5 | mp3-vbr | Crates/Breaks | | full
Pell & Harrow | Shingle | | Shingle | Breakbeat | 2016 | breakbeat | 137.1 | mp3 | Crates/Breaks | | full
Pell & Harrow | Relay | | Shingle | Electro | 2016 | electro | 125.2 | mp3 | Crates/Breaks | | upper
Iri Vane | Switchgear | | Switchgear | Electro | 2023 | electro | 130.6 | aiff | Crates/Breaks | | full
Ada Thole | Letter from the Lighthouse | | Lamp Oil Hours | Singer-Songwriter | 2011 | ballad | 68.5 | mp3 | Radio/Playlist | | full
Ada Thole | Winter Coat | | Lamp Oil Hours | Singer-Songwriter | 2011 | ballad | 74.9 | mp3 | Radio/Playlist | | full
Ada Thole | The Kettle and the Rain | | Lamp Oil Hours | Singer-Songwriter | 2011 | ballad | 63.7 | ogg | Radio/Playlist | | full
Brine Choir | Low Cloud | | Harbour Wall | Ambient | 2012 | ambient | 70 | flac | Rips/Harbour Wall | brine choir low cloud | upper
Brine Choir | Foghorn Study | | Harbour Wall | Ambient | 2012 | ambient | 60 | flac | Rips/Harbour Wall | brine choir foghorn study | upper
Skerry Foreshore | Bed, Morning | | Station Sound | Station | 2024 | ambient | 90 | wav | Radio/Beds and stings | bed_morning_01 | none
Skerry Foreshore | Bed, Tide Times | | Station Sound | Station | 2024 | deepHouse | 104 | wav | Radio/Beds and stings | bed_tidetimes_02 | none
Mabel Orr | Waltz for the Slip | | Three Hulls | Folk | 2009 | waltz | 150 | mp3 | Radio/Playlist | | full
Mabel Orr | Three Hulls | | Three Hulls | Folk | 2009 | waltz | 138.5 | mp3 | Radio/Playlist | | full
Mabel Orr | The Net Mender | | Three Hulls | Folk | 2009 | waltz | 126.4 | m4a | Radio/Playlist | | full
Vesna Rook; Hal Sorrow | Company One | | Company Kept | House | 2022 | house | 120.6 | flac | Albums/Vesna Rook - Company Kept | 01 Company One | guest-in-title
Vesna Rook; Ines Tarn | Company Two | | Company Kept | Hip-Hop | 2022 | hipHop | 90.3 | flac | Albums/Vesna Rook - Company Kept | 02 Company Two | guest-in-title
Vesna Rook; Iri Vane | Company Three | | Company Kept | Electro | 2022 | electro | 127.3 | flac | Albums/Vesna Rook - Company Kept | 03 Company Three | guest-in-title
Vesna Rook; Ada Thole | Company Four | | Company Kept | Singer-Songwriter | 2022 | ballad | 76.2 | flac | Albums/Vesna Rook - Company Kept | 04 Company Four | guest-in-title
The Boatyard Tapes | The Boatyard Tapes | | The Boatyard Tapes | Dub | 2003 | dub | 142 | mp3 | Albums/The Boatyard Tapes | The Boatyard Tapes - The Boatyard Tapes | full
The Boatyard Tapes | Rust and Oil | | The Boatyard Tapes | Dub | 2003 | dub | 138.2 | mp3 | Albums/The Boatyard Tapes | The Boatyard Tapes - Rust and Oil | full
The Boatyard Tapes | Plank by Plank | | The Boatyard Tapes | Dub | 2003 | dub | 146.4 | mp3 | Albums/The Boatyard Tapes | The Boatyard Tapes - Plank by Plank | full
Odette Kassar | Night Tide | | Slipway Nights Vol. 1 | Deep House | 2023 | deepHouse | 119.4 | mp3 | Albums/Various - Slipway Nights Vol. 1 | 01 - Odette Kassar - Night Tide | full
Low Tide Assembly | Cable Bay | | Slipway Nights Vol. 1 | Techno | 2023 | techno | 130.8 | mp3 | Albums/Various - Slipway Nights Vol. 1 | 02 - Low Tide Assembly - Cable Bay | full
Nadir Quay | Moorings | | Slipway Nights Vol. 1 | UK Garage | 2023 | twoStep | 134.6 | mp3 | Albums/Various - Slipway Nights Vol. 1 | 03 - Nadir Quay - Moorings | full
Marrow & Pine | Swell Tally | | Slipway Nights Vol. 1 | Nu Disco | 2023 | disco | 115.3 | mp3 | Albums/Various - Slipway Nights Vol. 1 | 04 - Marrow & Pine - Swell Tally | full
Odd Harbour | Tar Barrel | | Tar Barrel | Soul | 2006 | soul | 94.8 | mp3 | Old drive/Moved 2019 | Tar Barrel - Odd Harbour | full
Odd Harbour | Sunday Chandlery | | Tar Barrel | Soul | 2006 | soul | 101.1 | mp3 | Old drive/Moved 2019 | Sunday Chandlery - Odd Harbour | full
The Copper Gate | Glass Float | | Glass Float | House | 1996 | house | 118.7 | mp3-128 | Old drive/Moved 2019 | Glass Float - The Copper Gate | no-genre
Hal Sorrow | Halyard | | Halyard | Breakbeat | 2015 | breakbeat | 132.9 | mp3 | Old drive/Moved 2019 | Halyard - Hal Sorrow | wrong-year
Keel Nine | Rope Walk | Late Mix | Rope Walk | Deep House | 2022 | deepHouse | 118.3 | mp3 | Inbox | Rope Walk (Late Mix) - Keel Nine | artist-in-title
Iri Vane | Grey Harbour | | Grey Harbour | House | 2024 | house | 125 | mp3 | Inbox | 01. Iri Vane - Grey Harbour (snippet-promo) | promo
Ines Tarn | Unknown Title | | | | 0 | hipHop | 86.9 | mp3 | Inbox | 03 - unknown title | none
Sol Marisma | Arena | | | Dembow | 2024 | dembow | 101.4 | mp3 | Inbox | sol_marisma_arena_master_final2 | none
Lorne & Daughter | Peat Smoke | | Peat Smoke | Nu Disco | 2018 | disco | 117.6 | opus | Crates/House | | full
Vesna Rook | Ferry Clerk | | Ferry Clerk | Indie Dance | 2020 | disco | 119.98 | mp3 | Radio/Playlist | | version-in-title
`;

/** All tracks of the demo, in the order in which they are made. */
export const TRACKS: TrackSpec[] = ROWS.trim()
  .split('\n')
  .map((row) => {
    const [artist, title, version, album, genre, year, style, bpm, format, folder, name, tags] = row
      .split('|')
      .map((cell) => cell.trim());
    return {
      artist: artist!,
      title: title!,
      version: version!,
      album: album!,
      genre: genre!,
      year: Number(year),
      style: style as StyleName,
      bpm: Number(bpm),
      format: format as Format,
      folder: folder!,
      name: name!,
      tags: tags as TagHabit,
    };
  });
