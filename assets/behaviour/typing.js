/** Whether somebody is typing there. */
export const isTyping = (element) => !!element && (/^(INPUT|TEXTAREA|SELECT)$/.test(element.tagName) || element.isContentEditable);
