import { ref } from 'vue'

/** What the sheet in view calls itself; the frame shows it. */
export const title = ref('')
/** Whether it is lists and words, without a drawing or chart that reads the pointer: they are set larger where there is room. */
export const written = ref(false)
/** Where the margin notes of the sheet in view go. */
export const MARGIN = 'margin-notes'
