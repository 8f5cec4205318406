# The reference of survival.test.ts. Run: Rscript survival.reference.R (Debian: r-cran-survival).
library(survival)
options(digits=10)
# Freireich et al. 1963, weeks of remission: 6-MP (+ is censored) and placebo.
six <- c(6,6,6,6,7,9,10,10,11,13,16,17,19,20,22,23,25,32,32,34,35)
came <- c(1,1,1,0,1,0,1,0,0,1,1,0,0,0,1,1,0,0,0,0,0)
placebo <- c(1,1,2,2,3,4,4,5,5,8,8,8,8,11,11,12,12,15,17,22,23)
f <- survfit(Surv(six,came)~1, conf.type="log-log")
print(summary(f)); print(f$std.err[f$n.event>0]^2 * f$surv[f$n.event>0]^2)
print(quantile(f, c(.25,.5,.75)))
d <- survdiff(Surv(c(six,placebo), c(came,rep(1,21))) ~ rep(0:1,each=21))
print(d$chisq)
# Veterans' lung cancer trial (Kalbfleisch and Prentice), which comes with the package: four cell types.
v <- survdiff(Surv(time,status)~celltype, data=veteran)
print(v$chisq)
g <- survfit(Surv(time,status)~1, data=veteran, conf.type="log-log")
print(quantile(g, c(.25,.5,.75)))
for (k in levels(veteran$celltype)) { s <- veteran[veteran$celltype==k,]
 cat(k, "[", paste0("[", s$time, ",", s$status, "]", collapse=","), "]\n") }
cat(R.version.string, as.character(packageVersion("survival")), "\n")
