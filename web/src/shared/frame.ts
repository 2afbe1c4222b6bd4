import { ref } from 'vue'

/** What the sheet in view calls itself; the frame shows it. */
export const title = ref('')
/** Where the margin notes of the sheet in view go. */
export const MARGIN = 'margin-notes'
