package store

import (
	"cmp"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
	"github.com/jmoiron/sqlx/reflectx"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/internal/garden"
)

// table is a database table with the type of its records.
type table struct {
	name string
	// row is the record's type, columns its fields in order, id first.
	row     reflect.Type
	columns []string
	// index is where each column lies in the record.
	index  [][]int
	insert string
	update string
	// byID reads one row, list those whose column says so, by column; "" is all.
	byID string
	list map[string]string
}

type registry struct {
	mapper *reflectx.Mapper
	byType map[reflect.Type]*table
	byName map[string]*table
}

func newRegistry() registry {
	r := registry{mapper: reflectx.NewMapper("db"), byType: map[reflect.Type]*table{}, byName: map[string]*table{}}
	for _, t := range garden.Tables {
		row := reflect.TypeOf(t.New()).Elem()
		tb := &table{name: t.Name, row: row}
		for _, f := range r.mapper.TypeMap(row).Index {
			// Only tagged fields are columns; embedded structs are not.
			if f.Embedded || f.Field.Tag.Get("db") == "" {
				continue
			}
			tb.columns = append(tb.columns, f.Name)
		}
		// The mapper lists embedded fields last; the id is wanted first.
		slices.SortStableFunc(tb.columns, func(a, b string) int { return rank(a) - rank(b) })
		for _, c := range tb.columns {
			tb.index = append(tb.index, r.mapper.TypeMap(row).GetByPath(c).Index)
		}
		marks := strings.TrimSuffix(strings.Repeat("?,", len(tb.columns)), ",")
		tb.insert = fmt.Sprintf("INSERT INTO %s (%s) VALUES (%s)", tb.name, strings.Join(tb.columns, ","), marks)
		sets := make([]string, len(tb.columns))
		for i, c := range tb.columns {
			sets[i] = c + "=?"
		}
		order := " ORDER BY " + cmp.Or(t.Order, "id")
		all := "SELECT " + strings.Join(tb.columns, ",") + " FROM " + tb.name
		tb.byID, tb.list = all+" WHERE id=?", map[string]string{"": all + order}
		for _, c := range tb.columns {
			tb.list[c] = all + " WHERE " + c + "=?" + order
		}
		tb.update = fmt.Sprintf("UPDATE %s SET %s WHERE id=? AND version=?", tb.name, strings.Join(sets, ","))
		r.byType[row], r.byName[t.Name] = tb, tb
	}
	return r
}

// rank sorts a row's id and version before its other columns.
func rank(column string) int {
	switch column {
	case "id":
		return 0
	case "version":
		return 1
	}
	return 2
}

func (r registry) of(rec garden.Record) (*table, error) {
	t, ok := r.byType[reflect.TypeOf(rec).Elem()]
	if !ok {
		return nil, fmt.Errorf("no table stores %T", rec)
	}
	return t, nil
}

// values returns the record's columns as the driver takes them.
func (r registry) values(t *table, rec garden.Record) []any {
	if keyed, ok := rec.(interface{ SetKeys() }); ok {
		keyed.SetKeys()
	}
	v := reflect.ValueOf(rec).Elem()
	out := make([]any, len(t.columns))
	for i := range t.columns {
		// Read only: the mapper's own FieldByName would fill nil pointers in.
		out[i] = bind(reflectx.FieldByIndexesReadOnly(v, t.index[i]).Interface())
	}
	return out
}

// bind converts days, months and documents to text; other values pass unchanged.
func bind(v any) any {
	switch x := v.(type) {
	case quantity.Day:
		if x.IsZero() {
			return nil
		}
		return x.String()
	case interface{ Text() string }:
		return x.Text()
	case bool:
		if x {
			return 1
		}
		return 0
	case garden.JSON:
		return string(x)
	}
	return v
}

// tx is a write transaction.
type tx struct {
	reader
	tx      *sqlx.Tx
	changes []garden.RecordChange
	// beds are those that the changes touch.
	beds map[int64]bool
}

func (t *tx) note(name string, id int64, before, after garden.Record) error {
	c := garden.RecordChange{Table: name, ID: id}
	var err error
	if c.Before, err = asJSON(before); err != nil {
		return err
	}
	if c.After, err = asJSON(after); err != nil {
		return err
	}
	t.changes = append(t.changes, c)
	for _, rec := range []garden.Record{before, after} {
		if rec == nil {
			continue
		}
		if err := t.touch(t.beds, rec); err != nil {
			return err
		}
	}
	return nil
}

var null = garden.JSON("null")

func asJSON(r garden.Record) (garden.JSON, error) {
	if r == nil {
		return null, nil
	}
	return json.Marshal(r)
}

// Insert implements garden.Tx.
func (t *tx) Insert(rec garden.Record) error {
	tb, err := t.tables.of(rec)
	if err != nil {
		return err
	}
	head := rec.Head()
	// A record that is put back keeps counting from the version it had.
	head.Version++
	if err := fit(rec); err != nil {
		return err
	}
	args := t.tables.values(tb, rec)
	if head.ID == 0 {
		args[0] = nil
	}
	res, err := t.tx.ExecContext(t.ctx, tb.insert, args...)
	if err != nil {
		return fmt.Errorf("insert into %s: %w", tb.name, err)
	}
	if head.ID == 0 {
		if head.ID, err = res.LastInsertId(); err != nil {
			return err
		}
	}
	return t.note(tb.name, head.ID, nil, rec)
}

// fit returns the final validation before writing: nothing is stored that an archive could not
// restore. Forms validate earlier, with their own messages.
func fit(rec garden.Record) error {
	id := &rec.Head().ID
	if *id == 0 { // a new one gets its number when it is kept
		*id = 1
		defer func() { *id = 0 }()
	}
	return garden.CheckRecord(rec)
}

// current reads a record by id.
func (t *tx) current(tb *table, id int64) (garden.Record, error) {
	rec := reflect.New(tb.row).Interface().(garden.Record)
	err := t.one(rec, tb.byID, id)
	return rec, err
}

// standing reads the stored version of a record, and returns ErrStale when rec was made from an older one.
func (t *tx) standing(rec garden.Record) (*table, garden.Record, error) {
	tb, err := t.tables.of(rec)
	if err != nil {
		return nil, nil, err
	}
	before, err := t.current(tb, rec.Head().ID)
	if err == nil && before.Head().Version != rec.Head().Version {
		err = garden.ErrStale
	}
	return tb, before, err
}

// Update implements garden.Tx.
func (t *tx) Update(rec garden.Record) error {
	tb, before, err := t.standing(rec)
	if err != nil {
		return err
	}
	head := rec.Head()
	head.Version++
	// What an older version let in can still be struck out or put right.
	if err := fit(rec); err != nil && fit(before) == nil {
		return err
	}
	args := append(t.tables.values(tb, rec), head.ID, head.Version-1)
	if err := t.exec(tb.update, args...); err != nil {
		return err
	}
	return t.note(tb.name, head.ID, before, rec)
}

// Delete implements garden.Tx.
func (t *tx) Delete(rec garden.Record) error {
	tb, before, err := t.standing(rec)
	if err != nil {
		return err
	}
	head := rec.Head()
	if err := t.exec("DELETE FROM "+tb.name+" WHERE id=? AND version=?", head.ID, head.Version); err != nil {
		return err
	}
	return t.note(tb.name, head.ID, before, nil)
}

// exec runs a statement that must affect exactly one row.
func (t *tx) exec(query string, args ...any) error {
	res, err := t.tx.ExecContext(t.ctx, query, args...)
	if err != nil {
		return err
	}
	if n, err := res.RowsAffected(); err != nil || n != 1 {
		return fmt.Errorf("%d rows affected, want 1: %w", n, garden.ErrStale)
	}
	return nil
}
