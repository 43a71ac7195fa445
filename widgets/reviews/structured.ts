// Structured data for search engines: schema.org AggregateRating and Review, as JSON-LD in the page's
// head. The view marks the section only if the reviews shown are those that the average counts.
import type { Settings } from "./pocket";

const types = { business: "LocalBusiness", organization: "Organization", product: "Product", event: "Event" };

export function structured(section: HTMLElement, { subject, subjectKind }: Settings, signal: AbortSignal) {
  if (!subject) return;
  const text = (review: Element, name: string) => review.querySelector(name)?.textContent || undefined;
  const { average, best, count } = section.dataset;
  const data = {
    "@context": "https://schema.org",
    "@type": types[subjectKind!],
    name: subject,
    aggregateRating: { "@type": "AggregateRating", ratingValue: Math.round(Number(average) * 100) / 100, bestRating: Number(best), ratingCount: Number(count) },
    review: [...section.querySelectorAll<HTMLElement>(".review")].map((review) => {
      const rating = review.querySelector<HTMLElement>(".rating");
      return {
        "@type": "Review",
        author: { "@type": "Person", name: text(review, ".name") },
        datePublished: review.querySelector("time")?.dateTime.slice(0, 10),
        name: text(review, ".title"),
        reviewBody: text(review, ".words"),
        reviewRating: rating ? { "@type": "Rating", ratingValue: Number(rating.dataset.value), bestRating: Number(rating.dataset.best) } : undefined,
      };
    }),
  };
  const script = document.createElement("script");
  script.type = "application/ld+json";
  // Not textContent, which pages with Trusted Types refuse. "<" could end the element.
  script.append(JSON.stringify(data).replace(/</g, "\\u003c"));
  document.head.append(script);
  signal.addEventListener("abort", () => script.remove());
}
