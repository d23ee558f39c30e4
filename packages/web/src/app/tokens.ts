/** Colours of the two schemes. Names as in the interface notes: paper and ink, one accent, attention, failure. */
export const tokens = {
  light: {
    paper: '#f2eee4',
    sheet: '#fbf9f3',
    bench: '#eee9dc',
    ink: '#1f2a2d',
    ink2: '#56625f',
    ink3: '#5d6664',
    line: '#d9d2c1',
    line2: '#e8e3d6',
    verdigris: '#1b7063',
    verdigrisGround: '#dfece6',
    ochre: '#8f5a0c',
    ochreGround: '#f5e7cc',
    madder: '#a03a2c',
    madderGround: '#f4dfd8',
    clay: '#c9bda6',
    onAccent: '#fbf9f3',
  },
  dark: {
    paper: '#171e21',
    sheet: '#1f282b',
    bench: '#1a2225',
    ink: '#ece7da',
    ink2: '#a9b4b3',
    ink3: '#96a3a3',
    line: '#36444a',
    line2: '#2a363b',
    verdigris: '#63bfae',
    verdigrisGround: '#1d3a36',
    ochre: '#e0a54a',
    ochreGround: '#3d3017',
    madder: '#e58979',
    madderGround: '#43241f',
    clay: '#9c937f',
    onAccent: '#10201d',
  },
} as const;

export type Scheme = keyof typeof tokens;
export type Tokens = { [K in keyof (typeof tokens)['light']]: string };

export const sans = "'Archivo Variable', 'Archivo', system-ui, sans-serif";
export const mono = "'JetBrains Mono Variable', 'JetBrains Mono', ui-monospace, monospace";
