-- What derived data in this database was computed on: when the figure is another, pieces are evaluated anew from their recipes.
create table computed_on (
    what text primary key,
    version text not null
);
