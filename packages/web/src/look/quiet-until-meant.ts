/** What can be done in a row shows when the row is meant; a touch screen has no pointer to mean with. */
export const quietUntilMeant = {
  '@media (hover: hover)': {
    '& .MuiButton-root:not([aria-pressed="true"])': { opacity: 0 },
    '&:hover .MuiButton-root, &:focus-within .MuiButton-root, &.Mui-selected .MuiButton-root': { opacity: 1 },
  },
} as const
