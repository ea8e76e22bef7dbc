/** Fields that are no inputs of the browser's take what was typed before by this event, with the values as its detail. */
export const PUT_IN = 'stile:put-in';
