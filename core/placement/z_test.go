package placement_test
import ("testing";"os";"fmt";"cablaggio/core/placement")
func TestZ(t *testing.T){ b,_:=os.ReadFile("/work/shared/cases/no-room.json"); doc,err:=lib.Parse(b); if err!=nil{t.Fatal(err)}; p,err:=placement.Place(lib,doc); fmt.Println(p!=nil,err); if p!=nil {fmt.Println(p.Breadboards)} }
