import { areaCode, type E164 } from "./phone.ts";

/**
 * Where the area codes of the North American Numbering Plan lie, by time zone. Values from memory of the public
 * numbering plan, mended by the prefixes Google publishes (`area-zone.test.ts`); an area that spans two zones, or that the
 * two place differently, stands under both, and the stricter one decides.
 */
const AREAS: Readonly<Record<string, string>> = {
  "America/New_York":
    "201 202 203 207 212 215 216 219 220 223 227 229 231 234 239 240 248 252 260 267 269 270 272 276 283 " +
    "301 302 304 305 313 315 317 321 324 326 329 330 332 336 339 347 351 352 363 364 380 386 401 404 407 " +
    "410 412 413 419 423 434 440 443 445 448 463 470 472 475 478 484 502 508 513 516 517 518 526 540 551 " +
    "561 567 570 571 574 582 585 586 603 606 607 609 610 614 616 617 624 631 640 645 646 656 667 678 680 " +
    "681 686 689 703 704 706 716 717 718 724 727 728 732 734 740 743 754 757 762 765 770 771 772 774 781 " +
    "786 802 803 804 810 812 813 814 821 826 828 835 838 839 843 845 848 850 854 856 857 859 860 862 863 " +
    "864 865 878 904 906 908 910 912 914 917 919 929 930 934 937 941 943 947 948 954 959 973 978 980 984 " +
    "989",
  "America/Chicago":
    "205 210 214 217 218 219 224 225 228 235 251 254 256 262 270 274 281 308 309 312 314 316 318 319 320 " +
    "325 327 331 334 337 346 353 361 364 402 405 409 414 417 423 430 432 447 464 469 479 501 504 507 512 " +
    "515 531 534 539 557 563 572 573 574 580 601 605 606 608 612 615 618 620 629 630 636 641 651 659 660 " +
    "662 682 689 701 708 712 713 715 726 730 731 737 763 769 773 779 785 806 812 815 816 817 830 832 847 " +
    "850 861 870 872 901 903 906 913 918 920 930 931 936 938 940 945 952 956 972 975 979 985",
  "America/Denver":
    "208 303 307 308 385 402 406 435 505 541 575 605 620 701 719 720 748 775 785 801 915 970 983 986",
  "America/Phoenix": "480 520 602 623 928",
  "America/Los_Angeles":
    "206 208 209 213 253 279 310 323 341 350 360 369 408 415 424 425 442 458 503 509 510 530 541 559 562 " +
    "564 619 626 628 650 657 661 669 702 707 714 725 738 747 760 775 805 818 820 831 840 858 909 916 925 " +
    "949 951 971 986",
  "America/Anchorage": "907",
  "America/Adak": "907",
  "Pacific/Honolulu": "808",
  "America/Puerto_Rico": "709 787 879 939",
  "America/Toronto":
    "226 249 263 289 343 354 365 367 382 416 418 437 438 450 468 514 519 548 579 581 613 647 683 705 742 " +
    "753 807 819 873 905 942",
  "America/Winnipeg": "204 431 474 584 807",
  "America/Regina": "306 474 639",
  "America/Edmonton": "368 403 587 780 825 867",
  "America/Vancouver": "236 250 257 604 672 778 867",
  "America/Halifax": "506 782 902 428",
  "America/Whitehorse": "867",
  "America/St_Johns": "709 879",
  "America/Nassau": "242",
  "America/Barbados": "246",
  "America/Anguilla": "264",
  "America/Antigua": "268",
  "America/Tortola": "284",
  "America/St_Thomas": "340",
  "America/Cayman": "345",
  "Atlantic/Bermuda": "441",
  "America/Grenada": "473",
  "America/Grand_Turk": "649",
  "America/Jamaica": "658 876",
  "America/Montserrat": "664",
  "Pacific/Saipan": "670",
  "Pacific/Guam": "671",
  "Pacific/Pago_Pago": "684",
  "America/Lower_Princes": "721",
  "America/St_Lucia": "758",
  "America/Dominica": "767",
  "America/St_Vincent": "784",
  "America/Santo_Domingo": "809 829 849",
  "America/Port_of_Spain": "868",
  "America/St_Kitts": "869",
};

let byArea: Map<string, string[]> | null = null;

/** The zones a North American number may be in by its area code; empty for any other number. */
export function zonesOfPhone(phone: E164): readonly string[] {
  const area = areaCode(phone);
  if (!area) return [];
  if (!byArea) {
    byArea = new Map();
    for (const [zone, areas] of Object.entries(AREAS))
      for (const code of areas.split(" ")) byArea.set(code, [...(byArea.get(code) ?? []), zone]);
  }
  return byArea.get(area) ?? [];
}
