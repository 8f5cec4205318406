import { useProducts } from "../../../live/company-queries.ts";
import { useSetupDraft } from "../../../live/setup-draft.ts";
import { useChange } from "../../../live/setup-queries.ts";
import { ActsHead } from "../../../ui/ActsHead.tsx";
import { Button } from "../../../ui/Button.tsx";
import { Empty } from "../../../ui/Empty.tsx";
import { Field } from "../../../ui/Field.tsx";
import type { Product, ProductsSetup } from "../../../wire/company-schemas.ts";
import { SaveBar } from "../SaveBar.tsx";
import styles from "../Setup.module.css";
import { SetupFrame } from "../SetupFrame.tsx";
import { withoutBlanks, writtenList } from "../written.ts";
import { Uses } from "./Uses.tsx";

/** What is sold, under every name inquiries use for it. */
export function ProductsView() {
  return (
    <SetupFrame place="Products">
      <Products />
    </SetupFrame>
  );
}

const draftOf = ({ products }: ProductsSetup): Product[] =>
  products.map(({ key, name, value, alsoCalled }) => ({ key, name, value, alsoCalled }));

function Products() {
  const { data, error } = useProducts();
  const save = useChange();
  const [draft, setDraft] = useSetupDraft<Product[]>("products", data ? draftOf(data) : null);
  if (error) return <p className={styles.wrong}>{error.message}</p>;
  if (!draft || !data) return <p className={styles.quiet}>Looking …</p>;
  const changed = JSON.stringify(draft) !== JSON.stringify(draftOf(data));
  const put = (at: number, change: Partial<Product>) =>
    setDraft(draft.map((p, i) => (i === at ? { ...p, ...change } : p)));
  const usesOf = (key: string) => data.products.find((p) => p.key === key)?.uses ?? [];
  return (
    <>
      <div className={styles.top}>
        <h1>Products</h1>
        <Button
          look="strong"
          onClick={() => setDraft([...draft, { key: "", name: "", value: 0, alsoCalled: [] }])}
        >
          Add a product
        </Button>
      </div>
      <p className={styles.intro}>
        Rules, people and first replies go by what a lead asks for. An inquiry names it by any of its names,
        or in passing: “a quote for two barrels” is enough.
      </p>
      {draft.length === 0 ? (
        <Empty title="No product yet">
          <p>Add what you sell, and leads can be routed to whoever sells it.</p>
        </Empty>
      ) : (
        <table className={`${styles.table} ${styles.cards}`}>
          <thead>
            <tr>
              <th>Name</th>
              <th>Also called, separated by commas</th>
              <th>One sale, {data.currency}</th>
              <th>Used by</th>
              <ActsHead />
            </tr>
          </thead>
          <tbody className={styles.mid}>
            {draft.map((product, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a new one has no key yet
              <tr key={i}>
                <td>
                  <Field
                    label={`Name of product ${i + 1}`}
                    quiet
                    autoFocus={product.key === "" && product.name === ""}
                    value={product.name}
                    onChange={(e) => put(i, { name: e.target.value })}
                  />
                </td>
                <td>
                  <Field
                    label={`Other names of ${product.name || "it"}`}
                    quiet
                    value={product.alsoCalled.join(", ")}
                    onChange={(e) => put(i, { alsoCalled: writtenList(e.target.value) })}
                  />
                </td>
                <td>
                  <Field
                    label={`What one sale of ${product.name || "it"} is worth`}
                    quiet
                    type="number"
                    min={0}
                    value={product.value}
                    onChange={(e) => put(i, { value: Number(e.target.value) })}
                  />
                </td>
                <td>
                  <Uses of={usesOf(product.key)} />
                </td>
                <td>
                  <Button
                    look="bare"
                    aria-label={`Remove ${product.name || `product ${i + 1}`}`}
                    disabled={usesOf(product.key).length > 0}
                    onClick={() => setDraft(draft.filter((_, j) => i !== j))}
                  >
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {changed && (
        <SaveBar
          saving={save.isPending}
          onSave={() =>
            save.mutate({
              call: "POST /setup/products",
              body: { products: draft.map((p) => ({ ...p, alsoCalled: withoutBlanks(p.alsoCalled) })) },
              said: "In force from now on.",
              after: (now) => setDraft(draftOf(now)),
            })
          }
          draft={draft}
          onDraft={setDraft}
        />
      )}
    </>
  );
}
