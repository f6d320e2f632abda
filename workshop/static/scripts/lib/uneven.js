// Whether pixels that are shown so many times as large come out unlike one another: below twice, that is seen.
export const isUneven = zoom => zoom < 2 && Math.abs(zoom - Math.round(zoom)) > 0.02;
