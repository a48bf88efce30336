/** Usual shapes of a delivered picture: upright ones too. */
export const SHAPES = [
  { name: '16:9', width: 1920, height: 1080 },
  { name: '2.39:1', width: 1920, height: 804 },
  { name: '1.85:1', width: 1998, height: 1080 },
  { name: '9:16, upright', width: 1080, height: 1920 },
  { name: '1:1', width: 1080, height: 1080 },
];
