/** First replies in the company's three languages, in Liquid. */
export const FIRST_REPLY = {
  email: {
    en: {
      subject: "{{ lead.first_name | default: 'Hello' }}, about your {{ product | default: 'sauna or tub' }}",
      body: `Hi {{ lead.first_name | default: 'there' }},

thank you for asking about {% if product %}our {{ product }}{% else %}our saunas and tubs{% endif %}. Your inquiry is on our desk, and one of us will call you shortly.
{% if lead.message %}
You wrote: "{{ lead.message }}"
{% endif %}
If a text or an email suits you better, just answer this message.

{{ company.name }}
{{ company.email }}`,
    },
    fr: {
      subject: "{{ lead.first_name | default: 'Bonjour' }}, au sujet de votre demande",
      body: `Bonjour {{ lead.first_name | default: '' }},

merci de votre intérêt pour {% if product %}notre {{ product }}{% else %}nos saunas et nos bains{% endif %}. Votre demande est entre nos mains et l'un de nous vous appelle sous peu.
{% if lead.message %}
Vous avez écrit : « {{ lead.message }} »
{% endif %}
Si vous préférez un texto ou un courriel, répondez simplement à ce message.

{{ company.name }}
{{ company.email }}`,
    },
    es: {
      subject: "{{ lead.first_name | default: 'Hola' }}, sobre su consulta",
      body: `Hola {{ lead.first_name | default: '' }}:

gracias por preguntar por {% if product %}nuestro producto {{ product }}{% else %}nuestras saunas y tinas{% endif %}. Ya tenemos su consulta y alguien de nosotros le llamará en breve.
{% if lead.message %}
Usted escribió: "{{ lead.message }}"
{% endif %}
Si prefiere un mensaje de texto o un correo, conteste a este mensaje.

{{ company.name }}
{{ company.email }}`,
    },
  },
  text: {
    en: {
      body: "Hi {{ lead.first_name | default: 'there' }}, {{ company.name }} here. We have your question about {% if product %}our {{ product }}{% else %}our saunas and tubs{% endif %} and will call you shortly. Reply here if a text suits you better.",
    },
    fr: {
      body: "Bonjour {{ lead.first_name | default: '' }}, ici {{ company.name }}. Nous avons votre demande{% if product %} ({{ product }}){% endif %} et vous appelons sous peu. Répondez ici si vous préférez un texto.",
    },
    es: {
      body: "Hola {{ lead.first_name | default: '' }}, somos {{ company.name }}. Tenemos su consulta{% if product %} ({{ product }}){% endif %} y le llamaremos en breve. Conteste a este mensaje si prefiere texto.",
    },
  },
} as const;

/** To parked leads, every season. */
export const SEASON = {
  en: {
    subject: "{{ lead.first_name | default: 'Hello' }}, what a season in the cedar looks like",
    body: `Hi {{ lead.first_name | default: 'there' }},

when we last talked you wanted to wait with {% if product %}the {{ product }}{% else %}your sauna or tub{% endif %}. That is fine: cedar keeps.

If you want to see what others have built meanwhile: https://www.tarnholt.example/built
Whenever you are ready, answer this message or [choose a time]({{ booking.link }}).

{{ company.name }}`,
  },
} as const;

/** To somebody who asks again within a day. */
export const AGAIN_TEXT = {
  en: {
    body: "Thank you{% if lead.first_name %}, {{ lead.first_name }}{% endif %}: your new question is with your first one, and we answer both together.",
  },
  fr: {
    body: "Merci{% if lead.first_name %}, {{ lead.first_name }}{% endif %} : nous répondrons aux deux demandes ensemble.",
  },
  es: {
    body: "Gracias{% if lead.first_name %}, {{ lead.first_name }}{% endif %}: contestaremos las dos consultas juntas.",
  },
} as const;

/** From a salesperson after a call nobody took. */
export const MISSED_YOU = {
  en: {
    body: "Hi {{ lead.first_name | default: 'there' }}, {% if owner %}{{ owner.first_name }} from {% endif %}{{ company.name }}. I just tried to call you about {% if product %}the {{ product }}{% else %}your question{% endif %}. When suits you? A word here is enough.",
  },
  fr: {
    body: "Bonjour {{ lead.first_name | default: '' }}, {% if owner %}{{ owner.first_name }}, {% endif %}{{ company.name }}. Je viens de vous appeler. Quand cela vous convient-il ? Un mot ici suffit.",
  },
  es: {
    body: "Hola {{ lead.first_name | default: '' }}, {% if owner %}soy {{ owner.first_name }} de {% endif %}{{ company.name }}. Acabo de llamarle. ¿Cuándo le va bien? Basta con una palabra.",
  },
} as const;

/** What has to be known before a price can be named. */
export const SITE_AND_POWER = {
  en: {
    subject: "Four things we need to know{% if product %} for your {{ product }}{% endif %}",
    body: `Hi {{ lead.first_name | default: 'there' }},

so that I can name you a price that holds, please tell me:

- where it will stand: deck, gravel or slab, and how far from the house
- what power is near: 120 V outlet, 240 V line, or none yet
- how a truck gets to you, and whether there is snow to think of
- **when** you would like to use it first

Drawings and footprints are at https://tarnholt.example/footprints

{% if owner %}{{ owner.name }}, {{ owner.phone }}
{% endif %}{{ company.name }}`,
  },
} as const;
