/** Answers to opt-out, opt-in and help words. */
export const OPT_ANSWERS = {
  stop: {
    en: "You will get no more texts from {{ company.name }}. Write START if you want them again.",
    fr: "Vous ne recevrez plus de textos de {{ company.name }}. Écrivez START pour les recevoir à nouveau.",
    es: "No recibe ya mensajes de {{ company.name }}. Escriba START para recibirlos otra vez.",
  },
  start: {
    en: "{{ company.name }}: you get our texts again. Write STOP to end them.",
    fr: "{{ company.name }} : vous recevez à nouveau nos textos. Écrivez ARRET pour n'en plus recevoir.",
    es: "{{ company.name }}: recibe de nuevo nuestros mensajes. Escriba ALTO para terminar.",
  },
  help: {
    en: "{{ company.name }}: write to {{ company.email }} or answer here and one of us calls. Write STOP for no more texts.",
    fr: "{{ company.name }} : écrivez à {{ company.email }} ou répondez ici. Écrivez ARRET pour n'en plus recevoir.",
    es: "{{ company.name }}: escriba a {{ company.email }} o conteste a este mensaje. Escriba ALTO para terminar.",
  },
} as const;
