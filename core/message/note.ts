import MarkdownIt from "markdown-it";

/** CommonMark without HTML and without pictures: what is named in a note loads nothing from elsewhere. */
const markdown = new MarkdownIt("commonmark", { html: false, breaks: true, linkify: true })
  .enable("linkify")
  .disable(["image", "heading", "lheading", "hr"]);
markdown.linkify.set({ fuzzyLink: false, fuzzyEmail: false, fuzzyIP: false });
markdown.validateLink = (url) => /^(https?:\/\/|mailto:|tel:)/i.test(url.trim());
const plainLink = markdown.renderer.rules.link_open;
markdown.renderer.rules.link_open = (tokens, at, options, env, self) => {
  tokens[at]?.attrSet("rel", "noreferrer nofollow");
  tokens[at]?.attrSet("target", "_blank");
  return plainLink ? plainLink(tokens, at, options, env, self) : self.renderToken(tokens, at, options);
};

/** A note as HTML: lists, emphasis and links; no HTML of the writer’s own is ever let through. Never throws. */
export const noteHtml = (text: string): string => markdown.render(text);
