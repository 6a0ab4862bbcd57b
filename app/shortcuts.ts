/** All shortcuts of the application. This list is what is bound and what the help sheet shows. */
export const SHORTCUTS = [
  { action: 'undo', keys: '$mod+z', shown: 'Ctrl Z', label: 'Undo', group: 'Everywhere' },
  { action: 'redo', keys: '$mod+Shift+Z', shown: 'Ctrl Shift Z', label: 'Redo', group: 'Everywhere' },
  { action: 'help', keys: 'Shift+?', shown: '?', label: 'This list', group: 'Everywhere' },
  { action: 'look.picture', keys: 'u', shown: 'U', label: 'Show the picture', group: 'Viewing' },
  { action: 'look.grey', keys: 'i', shown: 'I', label: 'Show the mask in grey', group: 'Viewing' },
  { action: 'look.overlay', keys: 'o', shown: 'O', label: 'Show the mask over the picture', group: 'Viewing' },
  { action: 'look.edge', keys: 'x', shown: 'X', label: 'Show the edges of the mask as lines', group: 'Viewing' },
  { action: 'look.loupe', keys: '/', shown: '/', label: 'Loupe at 100 %', group: 'Viewing' },
  { action: 'look.blink', keys: '-', shown: '-', label: 'Blink the layer', group: 'Viewing' },
  { action: 'look.layer', keys: 'p', shown: 'P', label: 'Show the layer alone', group: 'Viewing' },
  { action: 'before', keys: 'a', shown: 'A, held', label: 'The base alone, while held', group: 'Viewing' },
  { action: 'full', keys: 'g', shown: 'G', label: 'Switch between fit and 100 %', group: 'Viewing' },
  { action: 'frame.in', keys: 'y', shown: 'Y', label: 'Use the frame', group: 'Gathering' },
  { action: 'frame.perhaps', keys: 't', shown: 'T', label: 'Maybe', group: 'Gathering' },
  { action: 'frame.out', keys: 'e', shown: 'E', label: 'Leave it out', group: 'Gathering' },
  { action: 'frame.base', keys: 'b', shown: 'B', label: 'Make it the base', group: 'Gathering' },
  { action: 'frame.mark', keys: 'Space', shown: 'Space', label: 'Mark it to compare', group: 'Gathering' },
  {
    action: 'compare',
    keys: 'Enter',
    shown: 'Enter',
    label: 'Compare the marked frames, or look at one',
    group: 'Gathering',
  },
  { action: 'compare.close', keys: 'Escape', shown: 'Esc', label: 'Back from comparing', group: 'Gathering' },
  { action: 'align.find', keys: 'f', shown: 'F', label: 'Align the frame', group: 'Aligning' },
  { action: 'align.difference', keys: 'k', shown: 'K', label: 'Show the difference', group: 'Aligning' },
  { action: 'align.edges', keys: 'l', shown: 'L', label: 'Show the edges', group: 'Aligning' },
  { action: 'align.blink', keys: 'h', shown: 'H', label: 'Blink', group: 'Aligning' },
  { action: 'brush.swap', keys: 'w', shown: 'W', label: 'Swap reveal and hide', group: 'Painting' },
  { action: 'brush.soften', keys: 'q', shown: 'Q', label: 'Soften, or even out', group: 'Painting' },
  { action: 'brush.smaller', keys: ',', shown: ',', label: 'Smaller brush', group: 'Painting' },
  { action: 'brush.larger', keys: '.', shown: '.', label: 'Larger brush', group: 'Painting' },
  { action: 'brush.weaker', keys: ';', shown: ';', label: 'Less strength', group: 'Painting' },
  { action: 'brush.stronger', keys: "'", shown: "'", label: 'More strength', group: 'Painting' },
  { action: 'layer.lower', keys: 'n', shown: 'N', label: 'Select the layer below', group: 'Layers' },
  { action: 'layer.higher', keys: 'm', shown: 'M', label: 'Select the layer above', group: 'Layers' },
  { action: 'layer.visible', keys: 'j', shown: 'J', label: 'Show or hide the layer', group: 'Layers' },
] as const;

export type ShortcutAction = (typeof SHORTCUTS)[number]['action'];

/** Gestures of the pointer, for the help sheet. */
export const GESTURES = [
  { shown: 'Drag', label: 'Paint; Escape cancels the stroke' },
  { shown: 'Shift click', label: 'A straight line from the end of the last stroke' },
  { shown: 'Alt drag', label: 'A horizontal or vertical stroke' },
  { shown: 'Alt and arrow up or down', label: 'Move the selected part of a mask' },
  { shown: 'Arrow keys', label: 'In Align, move the frame by a pixel; with Shift by a tenth' },
  { shown: 'Wheel', label: 'Zoom at the pointer' },
  { shown: 'Space drag, or middle button', label: 'Move the picture' },
] as const;
